"""The house as it is built: no circle of imports, for typing too, and one place for each name of a step."""

import ast
from pathlib import Path

import bright_tether
from bright_tether.steps.catalogue import STEPS

ROOT = Path(bright_tether.__file__).parent
MODULES = {".".join(("bright_tether", *path.relative_to(ROOT).with_suffix("").parts)): path
           for path in ROOT.rglob("*.py") if path.name != "__init__.py"}  # fmt: skip


def imported(path):
    """Modules of ours that a file names in an import, wherever it stands."""
    for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
        if isinstance(node, ast.ImportFrom) and node.module in MODULES:
            yield node.module
        elif isinstance(node, ast.ImportFrom):
            yield from (
                f"{node.module}.{one.name}" for one in node.names if f"{node.module}.{one.name}" in MODULES
            )
        elif isinstance(node, ast.Import):
            yield from (one.name for one in node.names if one.name in MODULES)


def circle(graph):
    """A way from a module back to itself, or nothing."""
    done, way = set(), []

    def walk(module):
        if module in way:
            return [*way[way.index(module) :], module]
        if module in done:
            return []
        way.append(module)
        found = next(filter(None, (walk(one) for one in sorted(graph[module]))), [])
        way.pop()
        done.add(module)
        return found

    return next(filter(None, map(walk, sorted(graph))), [])


def test_no_module_comes_back_to_itself():
    graph = {module: set(imported(path)) for module, path in MODULES.items()}
    assert len(graph) > 200
    assert not circle(graph)
    assert circle({"a": {"b"}, "b": {"c"}, "c": {"a"}}) == ["a", "b", "c", "a"]


def test_steps_are_named_in_the_catalogue_alone():
    """Line and Doubts are words for other things too; study files of version 1 kept titles."""
    titles = {step.title for step in STEPS} - {"Line", "Doubts"}
    for module, path in MODULES.items():
        if module.startswith("bright_tether.steps.") or module == "bright_tether.study.older":
            continue
        tree = ast.parse(path.read_text(encoding="utf-8"))
        literals = {node.value for node in ast.walk(tree)
                    if isinstance(node, ast.Constant) and isinstance(node.value, str)}  # fmt: skip
        assert not titles & literals, module
