"""What the step Strength says."""

from __future__ import annotations

from bright_tether.claims import coefficients as claimed
from bright_tether.claims.built_in import built_in_claims
from bright_tether.claims.cases import cases_claim
from bright_tether.claims.coefficients import (
    ApartClaim,
    CoefficientsClaim,
    ExactClaim,
    ReversalClaim,
    TiesClaim,
)
from bright_tether.claims.decision import coefficient_of
from bright_tether.claims.doubts import DoubtClaim
from bright_tether.claims.line import exact_claim as exact_line
from bright_tether.claims.line import few_claim, level_claim
from bright_tether.claims.look import far_places
from bright_tether.claims.origin import as_seen
from bright_tether.claims.rows import row_ids
from bright_tether.claims.searched import searched_claim
from bright_tether.claims.tether import claims_of
from bright_tether.core.doubts.verdicts import Verdict
from bright_tether.core.resampling.permutation import Permutation
from bright_tether.live.cases import VALUES, InForce
from bright_tether.live.findings import Findings
from bright_tether.study.rules import GroundRules
from bright_tether.words import digits as d
from bright_tether.words.causes import cause
from bright_tether.words.reading import Figure, Marking, Names, Reading, n_in_words, names_of
from bright_tether.words.readings.agreement import agreement_sentences, agreement_slope_sentence
from bright_tether.words.readings.built_in import built_in_sentences
from bright_tether.words.readings.cases import by_rows_sentence, cases_sentence, judged_sentence
from bright_tether.words.readings.decision import (
    COEFFICIENT_LETTERS,
    across_headline,
    decision_sentence,
    outcome_headline,
    tested,
    way,
)
from bright_tether.words.readings.groups import story_sentence
from bright_tether.words.readings.line import few_sentence
from bright_tether.words.readings.origin import not_together
from bright_tether.words.readings.refused import refused
from bright_tether.words.readings.rows import rows_in_words
from bright_tether.words.readings.searched import searched_sentence
from bright_tether.words.readings.trail import trail_sentence
from bright_tether.words.readings.unanswered import headline_resting, rests_on
from bright_tether.words.readings.values import recurring_sentences
from bright_tether.words.said import Said, listed

_LETTERS = {"r": "r", "rho": "ρ", "tau": "τ"}


def strength_reading(findings: Findings) -> Reading:
    """The coefficients in words: how strong, which way, by which test, and why they differ."""
    if findings.refusal:
        return refused(findings)
    names = names_of(findings.x_column, findings.y_column)
    claims, digits = claims_of(findings), findings.rules.digits
    reasons, markings = why_they_differ(findings, names)
    cases, agreement = cases_claim(findings), claimed.agreement_claim(findings)
    slope = claimed.agreement_slope_claim(findings)
    by_rows = (*(("the mean difference with its limits",) if agreement else ()),
               *(("the slope of the differences",) if slope else ()))  # fmt: skip
    return Reading(
        headline=headline(findings),
        sentences=(
            decision_sentence(findings),
            *not_together(claims.origin, names, digits),
            *exact_sentence(claimed.exact_claim(findings)),
            *reasons,
            *story_sentence(claims.story, digits),
            *cases_sentence(cases, digits),
            *judged_sentence(cases),
            *agreement_sentences(agreement, names, digits),
            *agreement_slope_sentence(slope, names, digits),
        ),
        figures=_figures(findings, names),
        beware=(
            *trail_sentence(findings),
            *built_in_sentences(built_in_claims(findings), names),
            *by_rows_sentence(cases, *by_rows),
            *alike_sentence(claims.seen.doubt("order"), findings),
            *searched_sentence(searched_claim(findings)),
            *recurring_sentences(claims.recurring, names),
            *few_sentence(few_claim(findings), names),
        ),
        markings=markings,
    )


def headline(findings: Findings) -> Said:
    """Strength word, direction and sign, only where the deciding test carries them and no story forbids it."""
    claims, digits = claims_of(findings), findings.rules.digits
    level, exact = level_claim(findings), exact_line(findings)
    if level is not None:
        return Said("One of the columns does not vary: nothing can go together with it.", level)
    across = across_headline(findings)
    if across is not None:
        return across
    name, value = coefficient_of(findings, claims.decision)
    named = d.relation(COEFFICIENT_LETTERS[name], value, digits)
    if exact is not None and claims.decision.outcome == "no test":
        return Said(f"Every pair lies on one line ({named}): nothing is left over for a test.", exact)
    if claims.strength is None:
        return headline_resting(outcome_headline(findings, named), claims.rests, digits)
    kind = "straight-line relationship" if name == "r" else "relationship by order"
    word = claims.strength.word
    first = f"{'An' if word[:1].lower() in 'aeiou' else 'A'} {word} {way(claims.direction)} {kind}".replace(
        "  ", " "
    )
    but = "" if claims.rests is None else f", but it rests {rests_on(claims.rests, digits)}"
    more = () if claims.rests is None else (claims.rests,)
    return Said(f"{first} ({named}, {tested(claims.decision, digits)}){but}.", claims.strength, claims.direction,
                claims.decision, *more)  # fmt: skip


def alike_sentence(order: DoubtClaim, findings: Findings) -> tuple[Said, ...]:
    """That the tests take rows for independent where neighbours clearly are not, and nothing answers that."""
    alike = order.verdict == Verdict.CLEAR and (order.size or 0.0) > 0
    if not alike or order.answer or order.explained_by or order.groups_of:
        return ()
    sign = f"A clear sign that neighbouring residuals are alike ({d.p_value(order.p)})"
    rest = "the tests of r, ρ and τ take each row for itself, and their p may come out too small"
    return (Said(f"{sign}: {rest}.", as_seen(findings, order)),)


def exact_sentence(claim: ExactClaim | None) -> tuple[Said, ...]:
    """The exact p beside the approximate one that decides."""
    if claim is None:
        return ()
    basis = "t" if claim.test == "spearman" else "the normal curve"
    shown = d.p_value(claim.p_exact)
    if claim.same_side is None:
        over = f"Over all orders of {claim.n} ranks, two-sided, the exact {shown}"
        return (Said(f"{over}: where ρ is 1 in size it is the one to go by.", claim),)
    if not claim.two_sided:
        return (Said(f"Over all orders of {claim.n} ranks, two-sided, the exact {shown}.", claim),)
    if claim.same_side:
        return (
            Said(f"The exact {shown}, over all orders of the ranks, falls on the same side of α.", claim),
        )
    return (
        Said(
            f"The exact {shown}, over all orders of the ranks, falls on the other side of α: with {claim.n} pairs "
            f"{basis} is only an approximation, and the exact p is the one to go by.",
            claim,
        ),
    )


def why_they_differ(findings: Findings, names: Names) -> tuple[tuple[Said, ...], tuple[Marking, ...]]:
    """Whether r, ρ and τ tell the same, likely causes where they do not, and the rows concerned."""
    three = claimed.coefficients_claim(findings)
    if three is None:
        return (), ()
    claims, digits = claims_of(findings), findings.rules.digits
    bend, strays = claims.seen.doubt("bend"), far_places(findings, claims.seen.doubt("far-out"))
    said, markings = [coefficients_sentence(three, digits)], []
    if claims.forbidding is not None:  # between groups or clumps the three weigh how these lie, not rows
        return tuple(said), ()
    apart, back = claimed.apart_claim(findings, strays), claimed.reversal_claim(findings)
    if apart is not None:
        said.append(apart_sentence(apart, digits))
        markings.append(Marking(f"Mark {d.count(strays.size, 'row')}", row_ids(findings, strays)))
    if bend.sign:
        said.append(Said("There is a sign of a bend: r asks how near the points come to a straight line, ρ and τ "
                         "only whether order is kept.", as_seen(findings, bend)))  # fmt: skip
    if back is not None and findings.reversal is not None:
        said.append(reversal_sentence(back, names, digits))
        places = findings.reversal.places
        markings.append(Marking(f"Mark the {places.size} rows that run back", row_ids(findings, places)))
    said += ties_sentence(claimed.ties_claim(findings), digits)
    return tuple(said), tuple(markings)


def coefficients_sentence(claim: CoefficientsClaim, digits: int) -> Said:
    """What the three tell together."""
    values = {"r": claim.r, "rho": claim.rho, "tau": claim.tau}
    each = listed(d.relation(_LETTERS[name], value, digits) for name, value in values.items())
    if claim.verdict == "agree":
        said = f"The three agree in sign, and {_outcome(claim)} ({each})"
        return Said(f"{said}; τ counts comparisons and is smaller than r by its making.", claim)
    if claim.verdict == "signs differ":
        return Said(f"The three do not point the same way ({each}).", claim)
    if not any(values.values()):
        return Said(f"All three are 0 ({each}).", claim)
    most = max(map(abs, values.values()))
    first = [letter for name, letter in _LETTERS.items() if abs(values[name]) == most]
    largest = (
        "they are of one size"
        if len(first) == len(values)
        else f"{listed(first)} {'is' if len(first) == 1 else 'are'} the largest in size"
    )
    if claim.verdict == "outcomes differ":
        yes = listed(_LETTERS[name] for name in claim.rejected)
        no = [letter for name, letter in _LETTERS.items() if name not in claim.rejected + claim.untested]
        none = _untested(claim)
        return Said(
            f"At α = {d.entered(claim.alpha)} the {_tests(len(claim.rejected))} of {yes} "
            f"{'rejects' if len(claim.rejected) == 1 else 'reject'} and {'that' if len(no) == 1 else 'those'} of "
            f"{listed(no)} {'does' if len(no) == 1 else 'do'} not{f', and {none}' if none else ''} ({each}); "
            f"{largest}.",
            claim,
        )
    return Said(f"τ is not smaller than r here, as it is in a normal cloud ({each}); {largest}.", claim)


def _outcome(claim: CoefficientsClaim) -> str:
    tested = [letter for name, letter in _LETTERS.items() if name not in claim.untested]
    if not tested:
        return "none has a test here"
    if not claim.untested:
        return "each test rejects" if claim.rejected else "no test rejects"
    does = ("rejects" if len(tested) == 1 else "reject") if claim.rejected else (
        "does not reject" if len(tested) == 1 else "do not reject")  # fmt: skip
    return f"the {_tests(len(tested))} of {listed(tested)} {does}, and {_untested(claim)}"


def _untested(claim: CoefficientsClaim) -> str:
    """Which have no test; nothing where all have one."""
    if not claim.untested:
        return ""
    return f"{listed(_LETTERS[name] for name in claim.untested)} {'has' if len(claim.untested) == 1 else 'have'} none"


def _tests(number: int) -> str:
    return "test" if number == 1 else "tests"


def apart_sentence(claim: ApartClaim, digits: int) -> Said:
    """Rows that draw r away from ρ."""
    after, before = (d.coefficient(one, digits) for one in (claim.rho_without, claim.rho))
    rho = f"{after} either way" if after == before else f"{after} instead of {before}"
    return Said(
        f"r weighs how far out a row lies, ρ only its place: without {rows_in_words(claim.rows)} r is "
        f"{d.coefficient(claim.r_without, digits)} instead of {d.coefficient(claim.r, digits)} (ρ {rho}).",
        claim,
    )


def reversal_sentence(claim: ReversalClaim, names: Names, digits: int) -> Said:
    """A run of rows that goes against the rest."""
    first, last = (rows_in_words((row,)) for row in (claim.first, claim.last))
    return Said(
        f"From {first} to {last}, along {names.x}, order runs the other way: these {d.grouped(claim.rows)} rows hold "
        f"{claim.broken} of the {claim.of_all} broken comparisons. Without them τ is "
        f"{d.coefficient(claim.tau_without, digits)} instead of {d.coefficient(claim.tau, digits)}.",
        claim,
    )


def ties_sentence(claim: TiesClaim | None, digits: int) -> tuple[Said, ...]:
    """Comparisons that are ties."""
    if claim is None:
        return ()
    is_tied = "is a tie and says" if claim.tied == 1 else "are ties and say"
    return (
        Said(
            f"{d.grouped(claim.tied)} of {d.count(claim.comparisons, 'comparison')} {is_tied} nothing of order: τ-a "
            f"counts ties as neither ({d.coefficient(claim.tau_a, digits)}), τ-b leaves them out "
            f"({d.coefficient(claim.tau_b, digits)}); ρ shares their ranks.",
            claim,
        ),
    )


def _figures(findings: Findings, names: Names) -> tuple[Figure, ...]:
    digits = findings.rules.digits
    r, rho, tau = (findings.in_force(name) for name in VALUES)
    unit = " · ".join(unit for unit in (names.x_unit, names.y_unit) if unit)
    figures = [
        Figure("covariance", d.figure(findings.covariance.covariance, digits), unit),
        Figure("r", d.coefficient(r.value, digits), d.p_value(r.p)),
        Figure("r²", d.percent(findings.plain_line.r2), "of the spread"),
        _test_figure("r", r, digits, d.p_value(r.p)),
        Figure("ρ", d.coefficient(rho.value, digits), d.p_value(rho.p)),
        _test_figure("ρ", rho, digits),
        Figure("τ-b", d.coefficient(tau.value, digits), d.p_value(tau.p)),
        _test_figure("τ", tau, digits),
    ]
    within = findings.within_groups
    if within is not None and len(within.groups) > 1:
        figures += [
            Figure(f"r, {g.name or '(blank)'}", d.coefficient(g.r, digits), n_in_words(g.n))
            for g in within.groups[:5]
        ]
        figures.append(Figure("r, within groups", d.coefficient(within.r, digits), d.p_value(within.p)))
    return tuple(figures)


def _test_figure(letter: str, one: InForce, digits: int, beside: str = "") -> Figure:
    df = "" if one.df is None else f" ({d.grouped(one.df)} df)"
    shown = d.p_value(one.p_exact)
    exact = "" if one.p_exact is None else d.worded(f"exact {shown}", shown, names=("exact p",))
    beside = "by case" if one.by_case else beside or exact
    return Figure(f"{one.letter} of {letter}{df}", d.figure(one.statistic, digits), beside)


def no_value(one: InForce) -> str:
    """Why a coefficient has no interval or value, for the ruler."""
    missing = one.why.get("ci")
    return f"no interval: {cause(missing)}" if missing else ""


def permutation_sentence(luck: Permutation, rules: GroundRules) -> str:
    """What shuffling says."""
    if luck.p is None:
        return f"No permutation p: {cause(luck.why['p'])}."
    how = {"two-sided": "as far from 0", "greater": "as high", "less": "as low"}[rules.alternative]
    of_cases = " of whole cases" if luck.by_case else ""
    return (
        f"In {d.grouped(luck.reached)} of {d.grouped(luck.shuffles)} shuffles{of_cases} r came {how} as here: "
        f"permutation {d.p_value(luck.p)} (± {d.figure(luck.p_error, 2)} by simulation), seed {luck.seed}."
    )
