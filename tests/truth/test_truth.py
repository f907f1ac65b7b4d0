"""What the steps say is true of the data, on another road; and a false claim of any kind is found."""

import re
from collections import Counter

import pytest

from bright_tether.claims import decision, stories
from bright_tether.claims.decision import DirectionClaim
from bright_tether.core.doubts import verdicts
from bright_tether.core.results import names_of
from tests.truth.check import faults, language, shared
from tests.truth.checks import CHECKS
from tests.truth.families import FAMILIES, case, odd
from tests.truth.pages import DOCS, kinds
from tests.truth.presence import DUE, misplaced
from tests.truth.road import Road
from tests.truth.study import judged, many, said

#: Sets of the long study, over all families.
SETS = 2000
#: A planted condition shows in one of these.
_SEEDS = range(12)


@pytest.mark.parametrize("family", FAMILIES)
def test_what_is_said_is_true(family):
    wrong, kinds_made = many([3], (family,))
    assert not wrong
    assert sum(kinds_made.values()) > 5


@pytest.mark.verify
def test_words_are_true_over_thousands_of_sets(capsys):
    each = -(-SETS // len(FAMILIES))
    wrong, made = many(range(1000, 1000 + each))
    with capsys.disabled():
        print(f"\nwords: {each * len(FAMILIES)} sets, {sum(made.values())} claims, {len(wrong)} wrong")
        for kind, count in sorted(made.items()):
            print(f"  {kind}: {count}{'' if kind in CHECKS else ' (language alone)'}")
        for one in wrong[:40]:
            print(one)
    assert not wrong


def unsound(seeds):
    """Sentences over odd data that no sentence may be, and claims of one tether that are two."""
    wrong = []
    for seed in seeds:
        entries = said(odd(seed))["readings"]
        # a value that was typed with many digits is shown with them
        found = [one for entry in entries for one in language(entry["says"]) if not one.startswith("dust")]
        wrong += [(seed, one) for one in (*found, *shared(entries))]
    return wrong


def test_sentences_are_sound_whatever_the_data():
    assert not unsound(range(40))


@pytest.mark.verify
def test_words_are_sound_whatever_the_data():
    assert not unsound(range(1000, 3000))


@pytest.fixture(scope="module")
def every():
    """One case of each family, and what was said of it."""
    cases = [case(family, seed) for family in FAMILIES for seed in (0, 1)]
    return [(one, said(one)) for one in cases]


@pytest.fixture(scope="module")
def records():
    """For each kind that is checked one case that makes such a claim, with what was said of it."""
    found = {}
    for seed in range(6):
        for family in FAMILIES:
            one = case(family, seed)
            if set(CHECKS) <= set(found):
                return found
            record = said(one)
            for entry in record["readings"]:
                found.setdefault(entry["kind"], (one, record))
    return found


@pytest.mark.parametrize("kind", sorted(CHECKS))
def test_a_false_fact_of_every_kind_is_found(kind, records):
    if kind not in records:
        pytest.skip(f"no set among the first makes a claim of kind {kind}")
    one, record = records[kind]
    place = next(at for at, entry in enumerate(record["readings"]) if entry["kind"] == kind)
    facts = record["readings"][place]["facts"]
    caught = []
    for name, value in facts.items():
        for false in _spoiled(value):
            entry = record["readings"][place] | {"facts": {**facts, name: false}}
            found = faults(one, {"readings": [entry]}, beside=record["readings"])
            caught += [name for wrong, _ in found if wrong == kind]
    assert caught, facts


@pytest.mark.parametrize("kind", sorted(DUE))
def test_a_wrong_condition_of_every_kind_is_found(kind, every):
    """Left out where it is due, and said where it is not: either way it is found, wherever this road decides."""
    entry = next(entry for _, record in every for entry in record["readings"] if entry["kind"] == kind)
    found = 0
    for one, record in every:
        entries = record["readings"]
        there = any(made["kind"] == kind for made in entries)
        planted = [made for made in entries if made["kind"] != kind] if there else [*entries, entry]
        road = Road(one)
        road.beside = entries
        found += kind in [wrong for wrong, _ in misplaced(road, one, planted, (kind,))]
    assert found >= 5


#: Verdicts and outcomes of all kinds, one of which is another than the one that stands there.
_WORDS = (
    "rejected", "not rejected", "opposite", "nothing", "agree", "clear sign", "too few to tell", "one line",
    "a line each", "the weighted spread", "the spread", "Σy²", "tight", "loose", "t", "z",
)  # fmt: skip


def _spoiled(value):
    """What a fact might have been instead."""
    if isinstance(value, bool):
        yield not value
    elif isinstance(value, int | float):
        yield value * 3 + 7
        yield -value - 1
    elif isinstance(value, str):
        yield from _WORDS
    elif isinstance(value, list):
        yield value * 2 if value else [1]
    elif isinstance(value, dict):
        for name, inner in value.items():
            for false in _spoiled(inner):
                yield {**value, name: false}
    else:
        yield 0.4


PLANTED = {
    "a direction whatever the decision": (
        decision, "direction_claim", lambda found, made: DirectionClaim(sign=1, of="r"), "direction", "plain"),
    "rejected whatever p": (
        decision, "outcome_of", lambda p, alpha: "rejected" if (p or 0) <= 10 * alpha else "not rejected",
        "decision", "rules"),
    "a story by the sign alone": (
        stories, "_verdict", lambda found, within, p_all, p_within: "same", "story", "groups"),
    "clumps that are none": (stories, "clumps_claim", lambda found: None, "strength", "boxes"),
    "no gaps": (stories, "p_of", lambda r, df: 0.5, "story", "groups"),
    "every size counts": (verdicts, "LEAST_DF_OF_ORDER", 0, "doubt", "tiny"),
}  # fmt: skip


@pytest.mark.parametrize("planted", PLANTED)
def test_a_planted_wrong_condition_is_found(planted, monkeypatch):
    module, name, wrong, kind, family = PLANTED[planted]
    monkeypatch.setattr(module, name, wrong)
    found = Counter()
    for seed in _SEEDS:
        found += Counter(one for one, _ in judged(family, seed)[0])
        if found[kind]:
            break
    assert found[kind], found


@pytest.mark.parametrize(
    "false",
    ["r = −0.000 here", "With 1 rows more", "1 are tied", "It lies rows 2 and 8", "the p is None",
     "r = +0.9999999999999999", "about fewer than 0.1 %", "data accept H0"],
)  # fmt: skip
def test_what_no_sentence_may_hold_is_found(false):
    assert language(false)


def test_every_kind_stands_in_the_docs():
    text = DOCS.read_text(encoding="utf-8")
    missing = [kind for kind in kinds() if f"| `{kind}` |" not in text]
    assert not missing
    assert set(CHECKS) <= set(kinds())


def test_what_a_rule_explains_is_a_fact_of_its_claim():
    stale = [
        (kind, name)
        for kind, made in kinds().items()
        for names in re.findall(r"(?:^|[.;]\s+|\n\s*)((?:\w+, )*\w+) : ", made.__doc__)
        for name in names.split(", ")
        if name not in names_of(made)
    ]
    assert not stale
