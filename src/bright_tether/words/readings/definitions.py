"""By which definitions the figures of a tether were worked out, with what they rest on; and from which files."""

from __future__ import annotations

from collections.abc import Set as AbstractSet

from bright_tether.core.conformal import MOST_RANKED, SEED, Conformal
from bright_tether.core.results import Refusal
from bright_tether.far.share import share_of
from bright_tether.live.findings import Findings
from bright_tether.tables.made import sources_of
from bright_tether.words import digits as d
from bright_tether.words.references import cited, named

#: A sentence, and the keys of the references in it.
Defined = tuple[str, tuple[str, ...]]
_ERRORS: dict[str, tuple[str, ...]] = {
    "HC0": ("white1980",), "HC1": ("mackinnon1985",), "HC2": ("mackinnon1985",), "HC3": ("mackinnon1985",),
    "newey_west": ("newey1987",), "clustered": ("liang1986",),
}  # fmt: skip


def definition_sentences(findings: Findings, steps: AbstractSet[str]) -> tuple[Defined, ...]:
    """What the parts that are shown rest on. steps : ids of those that something is shown of."""
    if findings.refusal is not None:
        return ()
    found: list[Defined] = []
    kind = findings.tether.line.errors
    if kind in _ERRORS:
        found.append((f"Standard errors after {{}}; t on {d.grouped(findings.errors.df)} df.", _ERRORS[kind]))
    by_case = findings.by_case
    if steps & {"line", "strength", "look"} and findings.in_force("pearson").ci is not None:
        if by_case is None:
            found.append(("The interval of r rests on atanh r {}.", ("fisher1921",)))
        else:
            one = "case" if by_case.parts == by_case.cases else "set of cases"
            found.append(
                (f"Intervals of coefficients by leaving one {one} after another out {{}}.", ("efron1981",))
            )
    if "strength" in steps and by_case is None and findings.kendall.ci is not None:
        keys = ("bonett2000", "fieller1957", "kendall1990")
        found.append(("Intervals and tests of ρ and τ-b after {}.", keys))
    if "doubts" in steps and not findings.fit.exact:
        keys = ("koenker1981", "durbin1950", "cook1977")
        found.append(("Even spread, independence and influence are checked after {}.", keys))
    if "compare" in steps:
        found += _compared(findings)
    if "forecast" in steps:
        found += _ahead(findings)
    if "rehearse" in steps:
        chosen = findings.tether.rehearse
        drawn = f"{d.count(chosen.draws, 'sample')} a run, seed {chosen.seed}"
        found.append((f"What is drawn at random: {drawn}, PCG64 generator.", ()))
    return tuple((_filled(words, keys), keys) for words, keys in found)


def _ahead(findings: Findings) -> list[Defined]:
    """What forecasts that are not by one spread rest on."""
    found: list[Defined] = []
    if findings.by_ranks:
        ranks = findings.conformal
        drawn = isinstance(ranks, Conformal) and ranks.drawn
        some = f", of {d.grouped(MOST_RANKED)} rows drawn with seed {SEED}" if drawn else ""
        found.append((f"Intervals for one case by the ranks of residuals, measured by those near in x{some} {{}}.",
                      ("lei2018",)))  # fmt: skip
    if findings.spread_power is not None:
        found.append(("Weights by a power that is fitted by restricted likelihood {}.", ("carroll1988",)))
    if findings.tether.forecast.local:
        found.append(("The smooth beside the line is of local lines {}.", ("fan1996",)))
    return found


def _compared(findings: Findings) -> list[Defined]:
    """What the comparison that is shown rests on; nothing where there is none."""
    try:
        comparison = findings.comparison
    except Refusal:
        return []
    found: list[Defined] = []
    if comparison.ladder.coincident.p is not None and comparison.by_case is None:
        found.append(("One line for all is tested after {}.", ("chow1960",)))
    if len(comparison.pairwise) > 1:
        found.append(("The p of every two groups is adjusted after {}.", ("holm1979",)))
    if comparison.equivalence is not None and comparison.equivalence.p is not None:
        found.append(("Equivalence is tested by two one-sided tests {}.", ("schuirmann1987",)))
    return found


def _filled(words: str, keys: tuple[str, ...]) -> str:
    """A sentence with its references: each in its place, or all in the one there is; in brackets but for “after”."""
    cite = named if "after {}" in words else cited
    if words.count("{}") == len(keys):
        return words.format(*(cite(key) for key in keys))
    return words.format(cite(*keys))


def source_sentences(findings: Findings) -> tuple[str, ...]:
    """The files that the rows came from: name, size, date and what tells their content apart. No folder is told."""
    tables = {one.id: one for one in findings.study.tables}
    named = [tables[one] for one in sources_of(findings.table.recipe) if one in tables] or [findings.table]
    sentences = []
    for table in named:
        source, share = table.source, share_of(table)
        if source is not None and share is not None:
            drawn = f", drawn by chance (seed {share.seed})" if share.rows < share.of else ""
            some = f"{d.count(share.rows, 'row')} of the {d.grouped(share.of)}"
            sentences.append(f"Data: {some} of “{source.path.rpartition('/')[2]}”{drawn}.")
        if source is None or not source.digest:
            continue
        parts = [f"“{source.path.rpartition('/')[2]}”"]
        parts += [d.count(source.size, "byte")] if source.size else []
        parts += [f"of {source.modified}"] if source.modified else []
        sentences.append(f"Data: {', '.join(parts)}, SHA-256 {source.digest}.")
    return tuple(sentences)
