"""Rows set aside, as arrays: the last word on a row counts, and reasons come in the order in which they came."""

from hypothesis import given
from hypothesis import strategies as st

from bright_tether.study.asides import NO_ASIDES, Aside, Asides

ROWS = st.lists(st.integers(0, 9), max_size=5)
DEEDS = st.lists(st.tuples(ROWS, st.sampled_from(["fouled", "ice", "late", None])), max_size=6)


@given(DEEDS)
def test_they_are_a_reason_for_each_row(deeds):
    kept, told = NO_ASIDES, {}
    for rows, reason in deeds:
        for row in rows:
            told.pop(row, None)
        told |= dict.fromkeys(sorted(set(rows)), reason) if reason else {}
        kept = kept.more(rows, reason) if reason else kept.less(rows)
    assert [(one.row, one.reason) for one in kept] == list(told.items())
    assert [kept[at] for at in range(len(kept))] == list(kept)
    assert {row: kept.reason_of(row) for row in range(10)} == {row: told.get(row) for row in range(10)}
    by_reason = {
        reason: [row for row, why in told.items() if why == reason] for reason in dict.fromkeys(told.values())
    }
    assert [(reason, rows.tolist()) for reason, rows in kept.by_reason] == list(by_reason.items())
    assert kept == Asides.told(list(kept))
    assert list(kept.among(kept.rows[:1])) == list(kept)[:1]


def test_of_a_row_told_twice_the_last_is_so():
    twice = Asides.told([Aside(3, "ice"), Aside(5, "ice"), Aside(3, "late")])
    assert list(twice) == [Aside(3, "late"), Aside(5, "ice")]
    assert Asides.told([]) is NO_ASIDES
    assert twice != NO_ASIDES
    assert twice != [Aside(3, "late")]
