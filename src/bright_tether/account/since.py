"""What has changed since a pin was frozen."""

from __future__ import annotations

from bright_tether.study.pins import Block, Drawing, Figures, Grid, Passage, Steps

_MOST = 6


def changed_since(then: tuple[Block, ...], now: tuple[Block, ...]) -> tuple[str, ...]:
    """Each difference in a few words; empty where nothing changed."""
    changes: list[str] = []
    for before, after in zip(then, now, strict=False):
        changes += _changed(before, after)
    if len(then) != len(now):
        changes.append("it would now show " + ("more" if len(now) > len(then) else "less"))
    more = len(changes) - _MOST
    return (*changes[:_MOST], *([f"and {more} more"] if more > 0 else []))


def _changed(before: Block, after: Block) -> list[str]:
    if type(before) is not type(after):
        return ["it would now show something else"]
    if isinstance(before, Figures) and isinstance(after, Figures):
        # the degrees of freedom that a name carries may change with the figure
        values = {name.split(" (")[0]: value for name, value, _ in after.rows}
        figures = [(name, value, values.get(name.split(" (")[0])) for name, value, _ in before.rows]
        return [f"{name}: {then} then, {now or 'gone'} now" for name, then, now in figures if then != now]
    if isinstance(before, Passage) and isinstance(after, Passage):
        if before.title != after.title:
            return [f"it would now say: {after.title}"]
        return ["its sentences have changed"] if before != after else []
    if isinstance(before, Grid) and isinstance(after, Grid):
        if before.heads != after.heads or len(before.rows) != len(after.rows):
            return [f"{before.title}: it has other rows or columns now"]
        cells = [(a, b) for one, other in zip(before.rows, after.rows, strict=True)
                 for a, b in zip(one, other, strict=True) if a != b]  # fmt: skip
        many = len(cells)
        return (
            [f"{before.title}: {many} {'cell differs' if many == 1 else 'cells differ'} now"] if many else []
        )
    if isinstance(before, Drawing) and isinstance(after, Drawing):
        return ["the picture has changed"] if before.svg != after.svg else []
    if isinstance(before, Steps) and isinstance(after, Steps):
        return [f"{before.title}: its numbers have changed"] if before != after else []
    return []
