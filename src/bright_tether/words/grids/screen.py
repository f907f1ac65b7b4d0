"""The columns that were looked at, as a table."""

from __future__ import annotations

from collections.abc import Sequence

from bright_tether.core.strength.screen import Looked, looked_at
from bright_tether.live.screen import Screen
from bright_tether.study.pins import Grid
from bright_tether.words import digits as d
from bright_tether.words.shown import Shown

LETTERS = {"pearson": "r", "spearman": "ρ", "kendall": "τ-b"}


def screen_heads(screen: Screen) -> tuple[str, ...]:
    """What the columns of the table are called."""
    letter = LETTERS[screen.coefficient]
    first = ("x", "y") if screen.every else ("column",)
    return (*first, "n", letter, "interval", "p", "p, Holm", "false finds")


def screen_line(screen: Screen, one: Looked, digits: int) -> tuple[str, ...]:
    """One line: names, n, coefficient, interval, p, p adjusted, share of false finds."""
    names = [screen.columns[one.first].short] + ([screen.columns[one.second].short] if screen.every else [])
    return (
        *names, d.grouped(one.n), d.coefficient(one.value, digits), d.coefficients(one.ci, digits),
        _share(one.p), _share(one.p_holm), _share(one.false_share),
    )  # fmt: skip


def screen_grid(screen: Screen, lines: Sequence[Looked], digits: int) -> Grid:
    """The lines as they are shown."""
    rows = tuple(screen_line(screen, one, digits) for one in lines)
    return Grid(title="What goes with what", heads=screen_heads(screen), rows=rows)


def screen_words(screen: Screen) -> str:
    """How many were looked at, how many stand out, and how many would by luck."""
    alpha, y = screen.alpha, "y" if screen.y is None else screen.columns[screen.y].short
    many = looked_at(screen.looked)
    if not many:
        return "No two columns have enough pairs to be held against each other."
    below = sum(one.p is not None and one.p <= alpha for one in screen.looked)
    holm = sum(one.p_holm is not None and one.p_holm <= alpha for one in screen.looked)
    what = d.count(many, "pair of columns", "pairs of columns") if screen.every else (
        f"{d.count(many, 'column')} against {y}")  # fmt: skip
    so_far = "" if screen.whole else " so far"
    luck = d.figure(alpha * many, 2)
    by = "" if screen.by_case is None else f", judged by case ({screen.by_case.short})"
    return (
        f"{what} looked at{so_far}{by}: {d.grouped(below)} with p ≤ {d.entered(alpha)}, where luck alone would give "
        f"about {luck}; {d.grouped(holm)} after Holm."
    )


def _share(value: float | None) -> str:
    return d.NONE if value is None else Shown(d.p_value(value).removeprefix("p = ").removeprefix("p "), value)
