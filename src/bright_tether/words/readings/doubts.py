"""What the step Doubts says: the board, and each doubt by itself."""

from __future__ import annotations

from bright_tether.claims.cases import cases_claim
from bright_tether.claims.doubts import DoubtClaim, DoubtsClaim, LineupClaim, carried_claim, lineup_claim
from bright_tether.claims.line import ExactLineClaim, LevelClaim, exact_claim, level_claim
from bright_tether.claims.rows import row_ids
from bright_tether.claims.tether import claims_of
from bright_tether.core.doubts.power import DEPARTURES, Seen
from bright_tether.core.doubts.verdicts import ANY_SIGN, SIZES, Doubt, Verdict
from bright_tether.live.findings import Findings
from bright_tether.words import digits as d
from bright_tether.words.causes import cause
from bright_tether.words.choices import ERROR_NAMES
from bright_tether.words.reading import Figure, Marking, Reading, names_of
from bright_tether.words.readings.cases import by_rows_sentence
from bright_tether.words.readings.line import carried_sentence
from bright_tether.words.readings.origin import origin_bend
from bright_tether.words.readings.refused import refused
from bright_tether.words.readings.rows import rows_in_words
from bright_tether.words.readings.unanswered import (
    FIGURE_NAMES,
    QUESTIONS,
    rests_sentence,
)
from bright_tether.words.readings.values import recurring_sentences
from bright_tether.words.said import Said, capital, listed
from bright_tether.words.shown import Shown
from bright_tether.words.workings.doubts import check_figures

_SIGNS = {
    "bend": "that the band bends along {x}",
    "bend about 0": "that the line through the origin misses the middle of the band along {x}",
    "spread": "that the residuals {way} with {x}",
    "order": "that neighbouring residuals are {alike}",
    "shape": "that the residuals are not normal in shape",
    "far-out": "that a row lies farther out than luck puts it",
    "pull": "that a row pulls the line",
}
_NONE = {
    "bend": "No sign of a bend along {x}.",
    "spread": "No sign that the residuals grow or shrink with {x}.",
    "order": "No sign that neighbouring residuals are alike or opposite.",
    "shape": "No sign that the residuals are lopsided or heavy at the ends.",
    "far-out": "No sign that a row lies farther out than luck puts it.",
    "pull": "No sign that a row pulls the line more than luck does.",
}
_DEPARTURE_WORDS = {
    "bend": "a bend {} times as wide as the residuals",
    "spread": "residuals {} times as wide at the highest x as at the lowest",
    "order": "neighbours alike by {}",
    "shape": "a skewness of {}",
    "far-out": "a row {} s away",
    "pull": "the row of most leverage {} s away",
}
_CONSEQUENCES = {
    "bend": "If so, a straight line is not the middle of the data everywhere; its forecasts err by stretches.",
    "bend about 0": "If so, its forecasts err by stretches, one way at low values and the other at high ones.",
    "spread": "If so, the line is still the right middle, but its usual errors and intervals are not to be trusted.",
    "order": "If neighbours are alike, the rows count for fewer than they are, and usual errors come out too small.",
    "shape": "Slope and interval bear this well in many rows; the interval for one case does not.",
    "far-out": "Look at the row’s own story before anything is done to it.",
    "pull": "See the line with and without it before trusting either.",
}
_SHORT_OF = {
    "size": "The p is small, but the size is too small to count.",
    "the family": "By itself its p would pass at α; as one of six checks it does not.",
}
#: What can be done about a doubt beside what is offered, and how far it goes.
BEYOND_REMEDIES = {
    "spread": "Robust errors (settings of the line) mend slope and mean; the interval for one case stays as it is.",
    "order": "Errors for alike neighbours or repeated cases (settings of the line) mend the slope’s error in part; "
             "with few rows their intervals stay too narrow. Changes from row to row are another way to ask.",
}  # fmt: skip


def doubts_reading(findings: Findings) -> Reading:
    """The board: what stands out, how much of that luck brings, and every doubt in one line."""
    if findings.refusal:
        return refused(findings)
    claims, x, digits = (
        claims_of(findings),
        names_of(findings.x_column, findings.y_column),
        findings.rules.digits,
    )
    head = claims.doubts
    signs = sorted((one for one in claims.six if one.sign), key=lambda one: one.verdict != Verdict.CLEAR)
    return Reading(
        headline=doubts_headline(head, exact_claim(findings) or level_claim(findings)),
        sentences=(
            *(sign_sentence(findings, one) for one in signs),
            *(origin_bend(claims.origin) if claims.doubt("bend").sign else ()),
            *luck_sentence(head, findings.rules.alpha, findings.pairs.n),
            *explained_sentences(claims.six),
            *(answer_sentence(one) for one in signs if one.answer is not None),
            *few_sentences(head, findings.pairs.n),
            *not_judged_sentences(claims.six),
        ),
        figures=tuple(
            Figure(FIGURE_NAMES[one.name], one.verdict.value, number(findings, one))
            for one in findings.doubts
        ),
        beware=(
            *carried_sentence(carried_claim(findings), x, digits),
            *rests_sentence(claims.rests, digits),
            *recurring_sentences(claims.recurring, x),
            *by_rows_sentence(
                cases_claim(findings), *(() if findings.fit.exact else ("each of the six checks",))
            ),
            *lineup_sentences(lineup_claim(findings)),
        ),
    )


def doubts_headline(claim: DoubtsClaim, exact: ExactLineClaim | LevelClaim | None) -> Said:
    """How many of the six show a sign."""
    many, clear = len(claim.signs), len(claim.clear)
    shows = "shows" if many == 1 else "show"
    if claim.exact:
        return Said(
            "There is nothing to doubt: every pair lies on the line, and all residuals are zero.",
            claim,
            exact,
        )
    if many and clear == many:
        return Said(f"{many} of six doubts {shows} a clear sign.", claim)
    if many:
        how = f"{clear} of them a clear one" if clear else "none a clear one"
        return Said(f"{many} of six doubts {shows} some sign, {how}.", claim)
    if claim.few:
        return Said("No sign against the line, but some doubts have too few rows to tell.", claim)
    if claim.not_judged:
        return Said("No sign against the line in the doubts that can be judged here.", claim)
    return Said("No sign against the line in any of the six doubts.", claim)


def luck_sentence(claim: DoubtsClaim, alpha: float, n: int) -> tuple[Said, ...]:
    """How often a true line shows as much."""
    if claim.exact:
        return ()
    times = d.percent(claim.expected_by_luck, 0)
    how = (
        f"at most {times}"
        if claim.bound
        else times
        if times.startswith(("less", "more"))
        else f"about {times}"
    )
    shown = f"{how} show at least one sign by luck; a clear one at most {d.percent(alpha, 0)}"
    if not claim.expected_by_luck:
        shown = "none of those simulated shows a sign by luck"
    return (
        Said(
            f"Six checks are six chances: of true lines over {d.count(n, 'row')} like these, {shown}.", claim
        ),
    )


def doubt_reading(findings: Findings, name: str) -> Reading:
    """One doubt: its verdict with the reason, its tests, what could have been seen."""
    if findings.refusal:
        return refused(findings)
    claim, found = claims_of(findings).doubt(name), findings.doubt(name)
    names, digits = names_of(findings.x_column, findings.y_column), findings.rules.digits
    sentences = [verdict_sentence(findings, claim)]
    if claim.sign:
        sentences += origin_bend(claims_of(findings).origin) if name == "bend" else ()
        sentences.append(Said(_consequence(findings, claim), claim))
    if claim.answer is not None:
        sentences.append(answer_sentence(claim))
    sentences += explained_sentences((claim,))
    markings: tuple[Marking, ...] = ()
    if claim.rows:
        sentences.append(Said(f"Concerned: {rows_in_words(claim.rows)}.", claim))
        markings = (Marking(f"Mark {d.count(len(claim.rows), 'row')}", row_ids(findings, found.rows)),)
    return Reading(
        headline=doubt_headline(findings, claim),
        sentences=tuple(sentences),
        figures=check_figures(findings, name),
        beware=carried_sentence(carried_claim(findings), names, digits) if name == "pull" else (),
        markings=markings,
    )


def _consequence(findings: Findings, claim: DoubtClaim) -> str:
    if claim.name == "order" and claim.size is not None and claim.size < 0:
        return "If neighbours are opposite, usual errors come out too large."
    if claim.name == "spread" and claims_of(findings).doubt("bend").sign:  # then it is not the middle anyway
        return "If so, usual errors and intervals are not to be trusted."
    return _CONSEQUENCES[_about(findings, claim)]


def _about(findings: Findings, claim: DoubtClaim) -> str:
    """What a doubt is called in the lists above: through the origin a missing height looks like a bend."""
    return "bend about 0" if claim.name == "bend" and findings.fit.origin else claim.name


def number(findings: Findings, one: Doubt) -> str:
    """The number on a card."""
    if one.size is None:
        return "" if one.p is None else d.p_value(one.p)
    if one.p is None and one.name != "pull":
        return ""
    order, skewness = findings.checks.durbin_watson.d, findings.checks.skewness
    share = d.percent(one.size, 0).replace("less than", "<").replace("more than", ">")
    words, value = {
        "bend": (f"{share} of residuals", None if one.size is None else 100 * one.size),
        "spread": (f"×{d.figure(one.size, 2)}", one.size),
        "order": (f"d = {d.figure(order, 3)}", order),
        "shape": (f"skew {d.signed(skewness, 2)}", skewness),
        "far-out": (f"|t| up to {d.figure(one.size, 2)}", one.size),
        "pull": (f"Cook {d.figure(one.size, 2)}", one.size),
    }[one.name]
    return words if value is None else Shown(words, value)


def sign_sentence(findings: Findings, claim: DoubtClaim) -> Said:
    """A sign as a sign, with what it rests on."""
    return Said(
        f"{capital(claim.verdict)} {_what(findings, claim)}: {size_in_words(findings, claim)}.", claim
    )


def _what(findings: Findings, claim: DoubtClaim) -> str:
    size = claim.size if claim.size is not None else 1.0
    return _SIGNS[_about(findings, claim)].format(
        x=findings.x_column.short,
        way="grow" if claim.name == "spread" and size >= 1 else "shrink",
        alike="alike" if size > 0 else "opposite",
    )


def size_in_words(findings: Findings, claim: DoubtClaim) -> str:
    """What was measured, with the p of its check where one was computed."""
    checks, x = findings.checks, findings.x_column.short
    p = "" if claim.p is None else d.p_value(claim.p)
    if claim.size is None and claim.name == "spread":
        return f"Breusch–Pagan {d.figure(checks.breusch_pagan.lm, 3)} ({p})"
    if claim.size is None and claim.name == "far-out":
        return f"all other rows lie on one line, so |t| has no bound; times the number of rows {p}"
    if claim.size is None:
        return "it cannot be measured here"
    if claim.name == "bend":
        return f"a squared term takes up {d.percent(claim.size)} of what the line leaves over ({p})"
    if claim.name == "spread":
        return (
            f"in the upper third of {x} they are {d.figure(claim.size, 2)} times as wide as in the lower "
            f"(Breusch–Pagan {d.figure(checks.breusch_pagan.lm, 3)}, {p})"
        )
    if claim.name == "order":
        return (
            f"each residual goes with the one before by {d.signed(claim.size, 2)} "
            f"(Durbin–Watson {d.figure(checks.durbin_watson.d, 3)}, {p})"
        )
    if claim.name == "shape":
        return f"skewness {d.signed(checks.skewness, 2)}, tails {d.signed(checks.excess_kurtosis, 2)} against 0 ({p})"
    if claim.name == "far-out":
        return f"|t| reaches {d.figure(claim.size, 3)}, and times the number of rows {p}"
    luck = f"{p} among true lines over these x" if p else f"below the {SIZES['pull']:g} from which it counts"
    return f"leaving one row out moves the line by a Cook’s distance of {d.figure(claim.size, 2)} ({luck})"


def doubt_headline(findings: Findings, claim: DoubtClaim) -> Said:
    """The verdict on one doubt."""
    x = findings.x_column.short
    if claim.sign:
        return Said(f"{capital(claim.verdict)} {_what(findings, claim)}.", claim)
    return Said(
        {
            Verdict.FEW.value: f"Too few rows to tell. {QUESTIONS[claim.name]}",
            Verdict.NONE.value: f"Not to be judged here. {QUESTIONS[claim.name]}",
            Verdict.NO.value: _NONE[claim.name].format(x=x),
        }[claim.verdict],
        claim,
    )


def verdict_sentence(findings: Findings, claim: DoubtClaim) -> Said:
    """What a verdict rests on."""
    if claim.cause is not None:
        return Said(f"It cannot be judged: {cause(claim.cause)}.", claim)
    first, alpha = capital(size_in_words(findings, claim)), findings.rules.alpha
    if claim.verdict == Verdict.CLEAR:
        return Said(
            f"{first}. A clear sign: as one of six checks its p passes at α = {d.entered(alpha)}.", claim
        )
    if claim.verdict == Verdict.SOME:
        return Said(
            f"{first}. Some sign: as one of six checks its p passes at {ANY_SIGN:g} α, and not at α.", claim
        )
    if claim.short_of is not None:
        return Said(f"{first}. {_SHORT_OF[claim.short_of]}", claim)
    if claim.verdict == Verdict.FEW and claim.could_see is not None:
        seldom = (
            f"be noticed only {_times(claim.could_see[1])} in 100"
            if claim.could_see[1]
            else "hardly ever be noticed"
        )
        return Said(
            f"{first}. But with {d.count(findings.pairs.n, 'row')} even a strong departure would {seldom}.",
            claim,
        )
    return Said(f"{first}.", claim)


def _times(chance: float) -> str:
    return d.count(round(100 * chance), "time")


def answer_sentence(claim: DoubtClaim) -> Said:
    """What answers a sign."""
    answer = ERROR_NAMES.get(claim.answer or "", claim.answer or "")
    by = f"{answer} errors" if claim.answer in ERROR_NAMES else f"the reason “{answer}”"
    return Said(f"{capital(FIGURE_NAMES[claim.name])}: answered by {by}.", claim)


def explained_sentences(claims: tuple[DoubtClaim, ...]) -> tuple[Said, ...]:
    """One doubt that brings another about, and rows that do."""
    by_bend = [
        Said(
            f"The rows stand in the order of x, so a bend by itself makes neighbouring residuals alike: the sign "
            f"against {FIGURE_NAMES[one.name]} may be the bend’s.",
            one,
        )
        for one in claims
        if one.explained_by is not None
    ]
    by_groups = [one for one in claims if one.groups_of]
    if by_groups:
        each = listed(f"{FIGURE_NAMES[one.name]} ({d.p_value(one.p_in_groups)})" for one in by_groups)
        signs = "the sign" if len(by_groups) == 1 else "the signs"
        lines = f"With a line for each {by_groups[0].groups_of} the data are compatible with {each}"
        by_bend.append(Said(f"{lines}: {signs} may be the groups’.", *by_groups))
    by_rows = [one for one in claims if one.without]
    if not by_rows:
        return tuple(by_bend)
    rows, many = rows_in_words(by_rows[0].without), len(by_rows[0].without) > 1
    each = listed(f"{FIGURE_NAMES[one.name]} ({d.p_value(one.p_without)})" for one in by_rows)
    signs = (
        f"the {'sign' if len(by_rows) == 1 else 'signs'} may be {'theirs' if many else 'that row’s'} alone"
    )
    return (*by_bend, Said(f"Without {rows} the data are compatible with {each}: {signs}.", *by_rows))


def few_sentences(claim: DoubtsClaim, n: int) -> tuple[Said, ...]:
    """Doubts that more rows would settle."""
    if not claim.few:
        return ()
    few = listed(FIGURE_NAMES[name] for name in claim.few)
    return (
        Said(
            f"With {d.count(n, 'row')} there are too few to tell: {few}. That is not the same as no sign.",
            claim,
        ),
    )


def not_judged_sentences(claims: tuple[DoubtClaim, ...]) -> tuple[Said, ...]:
    """Doubts that these data leave without a verdict, by cause."""
    causes = dict.fromkeys(
        one.cause for one in claims if one.verdict == Verdict.NONE and one.cause is not None
    )
    found = []
    for code in causes:
        with_it = [one for one in claims if one.cause is code and one.verdict == Verdict.NONE]
        if len(with_it) < len(claims):
            named = listed(FIGURE_NAMES[one.name] for one in with_it)
            found.append(Said(f"Not to be judged here: {named}, for {cause(code)}.", *with_it))
    return tuple(found)


def seen_sentence(seen: Seen) -> str:
    """What a check could have seen, in chances out of 100."""
    mild, strong, extreme = (round(100 * chance) for chance in seen.chances)
    sizes = [f"{size:g}" for size in DEPARTURES[seen.doubt]]
    first = _DEPARTURE_WORDS[seen.doubt].format(sizes[0])
    return (
        f"{capital(first)} would be noticed {mild} times in 100; by {sizes[1]}, {strong} times; "
        f"by {sizes[2]}, {extreme} times ({seen.draws} simulated lines over these x)."
    )


def lineup_sentences(claim: LineupClaim | None) -> tuple[Said, ...]:
    """What the lineups kept so far say."""
    if claim is None:
        return ()
    return (
        Said(
            f"Lineup: the real picture was picked in {claim.found} of {d.count(claim.tries, 'try', 'tries')}; by luck "
            f"alone each try would find it with a chance of {d.percent(claim.by_luck, 0)}.",
            claim,
        ),
    )
