"""Rows paired by codes of their cells: the same rows as when each is held against each."""

import random
from collections import defaultdict

import numpy as np
import pytest

from bright_tether.study.told_apart import CodedCells, paired
from bright_tether.tables.column import Column

NUMBERS = [1.0, 2.0, 0.0, -0.0, 3.5, None, None, "bad", "odd"]
TEXTS = ["a", "b", "a ", None, "long"]


def column_of(kind, cells):
    if kind == "number":
        numbers = np.array([one if isinstance(one, float) else np.nan for one in cells])
        strays = {at: one for at, one in enumerate(cells) if isinstance(one, str)}
        return Column(id="c", name="c", kind="number", cells=numbers, strays=strays)
    return Column(id="c", name="c", kind="text", cells=np.array([one or "" for one in cells], object))


def coded(kinds, old, now):
    """Codes of rows, (n, columns) and (m, columns)."""
    columns = {}
    for at, kind in enumerate(kinds):
        was, column = (column_of(kind, [row[at] for row in rows]) for rows in (old, now))
        columns[f"c{at}"] = CodedCells(was, np.arange(len(old)), np.arange(len(old)), column)
    return columns


def by_hand(old, now, label, carrying, settled):
    """The same without codes: cases by their label, or by the whole row, in the order in which they stand."""
    to, unsure = [-1] * len(now), set()
    for row, place in settled.items():
        if place is not None:
            to[place] = row
    mine = [row for row in range(len(old)) if row not in settled]
    theirs = [place for place in range(len(now)) if to[place] < 0]

    def alike(key):
        groups = defaultdict(lambda: ([], []))
        for row in mine:
            groups[key(old[row])][0].append(row)
        for place in theirs:
            groups[key(now[place])][1].append(place)
        return groups.values()

    for rows, places in alike(tuple):
        for row, place in zip(rows, places, strict=False):
            to[place] = row
        some = rows[: len(places)] if label is not None else rows
        one_of_many = len(rows) == 1 and len(places) > 0
        if len(rows) != len(places) and not one_of_many:
            unsure |= set(some)
    if label is not None:
        mine = [row for row in mine if row not in to]
        theirs = [place for place in theirs if to[place] < 0]
        for rows, places in alike(lambda cells: cells[label]):
            for row, place in zip(rows, places, strict=False):
                to[place] = row
            if places and (len(rows), len(places)) != (1, 1):
                unsure |= set(rows)
    return to, [row for row in range(len(old)) if row in unsure and carrying[row]]


@pytest.mark.parametrize("seed", range(150))
def test_rows_are_paired_as_by_hand(seed):
    draw = random.Random(seed)
    kinds = [draw.choice(["number", "text"]) for _ in range(draw.randint(1, 4))]

    def row():
        return tuple(draw.choice(NUMBERS if kind == "number" else TEXTS) for kind in kinds)

    old = [row() for _ in range(draw.randint(0, 12))]
    now = [draw.choice(old) if old and draw.random() < 0.7 else row() for _ in range(draw.randint(0, 12))]
    label = draw.choice([None, 0])
    carrying = np.array([draw.random() < 0.5 for _ in old], bool)
    settled = {}
    if old and now and draw.random() < 0.3:
        settled = {draw.randrange(len(old)): draw.choice([None, draw.randrange(len(now))])}
    found = paired(coded(kinds, old, now), None if label is None else "c0", carrying, len(now), settled)
    to, unsure = by_hand(old, now, label, carrying, settled)
    assert found.to.tolist() == to
    assert np.flatnonzero(found.unsure).tolist() == unsure


def test_very_many_columns_of_different_cells_make_codes_that_fit():
    """More combinations than a number holds."""
    draw = np.random.default_rng(3)
    old = [tuple(row) for row in draw.normal(size=(3_000, 8)).tolist()]
    now = [old[at] for at in draw.permutation(len(old)).tolist()]
    columns = coded(["number"] * 8, old, now)
    assert columns["c0"].size ** 8 > 2**63
    found = paired(columns, None, np.ones(len(old), bool), len(now), {})
    assert [old[row] for row in found.to.tolist()] == now
    assert not found.unsure.any()


def test_a_cell_that_was_mended_has_the_code_of_what_the_file_had():
    column = coded(["number"], [(1.0,), (2.0,)], [(2.0,), ("bad",), (None,)])["c0"]
    assert column.of(2.0) == column.old[1] == column.now[0]
    assert column.of("bad") == column.now[1]
    assert column.of(None) == column.now[2]
    assert column.of(7.5) not in {*column.old.tolist(), *column.now.tolist()}
    texts = coded(["text"], [("a",)], [(None,), ("b",)])["c0"]
    assert (texts.of("b"), texts.of(None)) == (texts.now[1], texts.now[0])
    assert texts.of(1.0) == texts.size - 1
