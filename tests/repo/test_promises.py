"""What the repository promises of itself."""

import re
import shutil
import subprocess
import sys
from pathlib import Path

import pytest

ROOT = Path(__file__).parent.parent.parent
SOURCE = ROOT / "src" / "bright_tether"


def contracts(folder):
    command = [Path(sys.executable).parent / "lint-imports", "--no-cache"]
    environment = {"PYTHONPATH": str(folder / "src"), "PATH": "/usr/bin:/bin", "PYTHONDONTWRITEBYTECODE": "1"}
    return subprocess.run(command, cwd=folder, env=environment, capture_output=True, text=True, check=False)


@pytest.mark.parametrize(
    ("file", "violation"),
    [
        ("core/tails.py", "def planted():\n    from PyQt6 import QtCore\n    return QtCore\n"),
        ("words/digits.py", "import pyqtgraph\n"),
        ("study/study.py", "def planted():\n    import bright_tether.desktop.window\n"),
        ("tables/cells.py", "from bright_tether.core import pairs\n"),
    ],
)
def test_a_planted_violation_breaks_the_import_contract(tmp_path, file, violation):
    shutil.copytree(
        ROOT / "src", tmp_path / "src", ignore=shutil.ignore_patterns("__pycache__", "*.egg-info")
    )
    shutil.copy(ROOT / "pyproject.toml", tmp_path)
    path = tmp_path / "src" / "bright_tether" / file
    path.write_text(path.read_text(encoding="utf-8") + "\n\n" + violation, encoding="utf-8")
    found = contracts(tmp_path)
    assert found.returncode != 0, found.stdout


def test_the_import_contract_holds():
    assert contracts(ROOT).returncode == 0


def test_colours_stand_in_the_tokens_alone():
    literal = re.compile(r"#[0-9a-fA-F]{6}\b|#[0-9a-fA-F]{3}\b(?!\w)")
    places = [*SOURCE.rglob("*.py"), *SOURCE.rglob("*.qss")]
    found = [
        p.name for p in places if p.name != "tokens.py" and literal.search(p.read_text(encoding="utf-8"))
    ]
    assert not found


def test_locks_are_pinned_with_digests_and_name_no_host():
    for lock in (ROOT / "requirements").glob("*.lock"):
        text = lock.read_text()
        assert "://" not in text
        assert text.count("--hash=sha256:") > text.count("==") > 5


def test_the_demo_is_made_by_its_script():
    from bright_tether.demo import make_what_else
    from bright_tether.demo.make_loggers import write_files
    from bright_tether.demo.make_survey import write_survey

    def made(folder):
        write_survey(folder)
        write_files(folder)
        make_what_else.write_files(folder)
        return {p.name: p.read_bytes() for p in folder.glob("*.csv")}

    shipped = {p.name: p.read_bytes() for p in (SOURCE / "demo").glob("*.csv")}
    import tempfile

    with tempfile.TemporaryDirectory() as folder:
        assert made(Path(folder)) == shipped


def test_every_measure_of_speed_is_told_of():
    measures = (ROOT / "bench" / "measures.py").read_text(encoding="utf-8")
    names = re.findall(r'^    "([\w-]+)": \w+,$', measures.partition("MEASURES = {")[2], re.M)
    told = (ROOT / "docs" / "speed.md").read_text(encoding="utf-8")
    assert len(names) > 20
    assert not [name for name in names if f"`{name}`" not in told]
