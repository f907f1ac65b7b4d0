"""Each kind of claim held against the road: what is wrong with it, as sentences; nothing where it is true."""

from __future__ import annotations

import re
import warnings

from tests.truth import of_comparisons, of_doubts, of_relationship
from tests.truth.checks import CHECKS
from tests.truth.presence import misplaced
from tests.truth.road import Road

#: Modules that keep their checks when they are loaded.
LOADED = (of_relationship, of_doubts, of_comparisons)
_LANGUAGE = {
    "minus zero": re.compile(r"[−-]0(\.0+)?(?![\d.])"),
    "dust of a float": re.compile(r"\d\.\d{13,}"),
    "two blanks": re.compile(r"\S  \S"),
    "one as many": re.compile(r"(?<![\d.\u202f])1 (rows|pairs|times|comparisons|new cases)\b"),
    "many as one": re.compile(r"(?<![\d.\u202f])(?!1 )\d+ (row|pair|comparison|new case)\b(?! \d)"),
    "a verb that does not fit": re.compile(r"lies rows|lie row |(?<!\d)1 are tied|(?<!\d)[2-9] is tied"),
    "a missing part": re.compile(r"None|nan|inf\b|\{|\}| ,|\(\)|\.\.|,\.|: \."),
    "acceptance or cause": re.compile(r"\baccept|\bprove|\bcauses?\b|\bsignifican"),
    "about fewer": re.compile(r"about (fewer|less|more) than"),
}


def faults(case, record, beside=None):
    """Everything that is wrong with what was said of a case: kind and what. beside : all that was said of it."""
    road, found = Road(case), []
    road.beside = record["readings"] if beside is None else beside
    entries = record["readings"]
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")  # a false fact may lead the road out of bounds
        for entry in entries:
            test = CHECKS.get(entry["kind"])
            told = test(entry["facts"], road, case) if test and road.n >= 3 else ()
            found += [(entry["kind"], f"{wrong}: {entry['says']}") for wrong in told]
    found += [("language", wrong) for entry in entries for wrong in language(entry["says"])]
    found += shared(entries)
    return found + (misplaced(road, case, entries) if beside is None else [])


def language(says):
    """What no sentence may hold."""
    return [f"{name}: {says}" for name, pattern in _LANGUAGE.items() if pattern.search(says)]


def shared(entries):
    """One decision, one story, one list of doubts in force: the same facts wherever they stand."""
    wrong, seen = [], {}
    for entry in entries:
        kind = entry["kind"]
        if kind not in ("decision", "story", "clumps", "doubts_in_force", "direction", "strength"):
            continue
        key = (kind, entry["facts"].get("by"))
        if seen.setdefault(key, entry["facts"]) != entry["facts"]:
            wrong.append((kind, f"two of it: {entry['says']}"))
    return wrong
