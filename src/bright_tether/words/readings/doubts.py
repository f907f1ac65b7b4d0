"""What the step Doubts says: the board, and each doubt by itself."""

from __future__ import annotations

from functools import partial

from bright_tether.core.checks.order import Runs
from bright_tether.core.doubts.power import DEPARTURES, Seen
from bright_tether.core.doubts.verdicts import CLEAR, Doubt, Verdict
from bright_tether.live.findings import Findings
from bright_tether.words import digits as d
from bright_tether.words.causes import cause
from bright_tether.words.reading import Figure, Marking, Reading, Step, Working, names_of
from bright_tether.words.readings.look import rows_at, rows_named
from bright_tether.words.readings.refused import refused
from bright_tether.words.readings.unanswered import FIGURE_NAMES, QUESTIONS

_BAD = {
    "bend": "The line bends where the data do not follow it",
    "spread": "The residuals do not keep one width",
    "order": "Neighbouring residuals are alike",
    "shape": "The residuals are not shaped like a normal curve",
    "far-out": "A row lies farther out than luck puts it",
    "pull": "A row pulls the line",
}
_DEPARTURE_WORDS = {
    "bend": "a bend {} times as wide as the residuals",
    "spread": "residuals {} times as wide at the highest x as at the lowest",
    "order": "neighbours alike by {}",
    "shape": "a skewness of {}",
    "far-out": "a row {} s away",
    "pull": "the row farthest out in x {} s away",
}


def doubts_reading(findings: Findings) -> Reading:
    """The board: what stands out, and every doubt in one line."""
    if findings.refusal:
        return refused(findings)
    told = findings.doubts
    clear = [one for one in told if one.verdict is Verdict.CLEAR]
    some = [one for one in told if one.verdict is Verdict.SOME]
    if findings.fit.exact:
        headline = "There is nothing to doubt: every pair lies on the line, and all residuals are zero."
    elif clear:
        headline = f"{len(clear)} of six doubts {'shows' if len(clear) == 1 else 'show'} a clear sign."
    elif some:
        headline = (
            f"{len(some)} of six doubts {'shows' if len(some) == 1 else 'show'} some sign, none a clear one."
        )
    elif any(one.verdict is Verdict.FEW for one in told):
        headline = "No sign against the line, but some doubts have too few rows to tell."
    else:
        headline = "No sign against the line in any of the six doubts."
    return Reading(
        headline=headline,
        sentences=(
            *(f"{_BAD[one.name]}: {_size_in_words(findings, one)}." for one in (*clear, *some)),
            *_answers(findings),
            *_few_rows(findings, told),
        ),
        figures=tuple(
            Figure(FIGURE_NAMES[one.name], one.verdict.value, number(findings, one)) for one in told
        ),
        beware=lineup_sentences(findings),
    )


def doubt_reading(findings: Findings, name: str) -> Reading:
    """One doubt: its verdict with the reason, its tests, what could have been seen."""
    if findings.refusal:
        return refused(findings)
    one = findings.doubt(name)
    sentences = [_verdict_sentence(findings, one), *_consequence(one)]
    answer = findings.answer_to(name)
    if answer and one.verdict in (Verdict.CLEAR, Verdict.SOME):
        sentences.append(f"Answered by: {answer}.")
    markings: tuple[Marking, ...] = ()
    if one.rows.size:
        sentences.append(f"Concerned: {rows_named(findings, one.rows)}.")
        markings = (Marking(f"Mark {d.count(one.rows.size, 'row')}", rows_at(findings, one.rows)),)
    return Reading(
        headline=_headline(findings, one),
        sentences=tuple(sentences),
        figures=_tests(findings, name),
        markings=markings,
    )


def number(findings: Findings, one: Doubt) -> str:
    """The number on a card."""
    if one.p is None:
        return ""
    if one.size is None:
        return d.p_value(one.p)
    return {
        "bend": f"{d.percent(one.size, 0)} of residuals",
        "spread": f"×{d.figure(one.size, 2)}",
        "order": f"d = {d.figure(findings.checks.durbin_watson.d, 3)}",
        "shape": f"skew {d.signed(findings.checks.skewness, 2)}",
        "far-out": f"|t| up to {d.figure(one.size, 2)}",
        "pull": f"Cook {d.figure(one.size, 2)}",
    }[one.name]


def _size_in_words(findings: Findings, one: Doubt) -> str:
    told, x = findings.checks, names_of(findings.x_column, findings.y_column).x
    if one.p is None or one.size is None:
        return "it cannot be measured here"
    if one.name == "bend":
        return (
            f"a squared term takes up {d.percent(one.size)} of what the line leaves over ({d.p_value(one.p)})"
        )
    if one.name == "spread":
        wide = "as wide" if one.size >= 1 else "as wide, so narrower,"
        return (
            f"in the upper third of {x} they are {d.figure(one.size, 2)} times {wide} as in the lower "
            f"(Breusch–Pagan {d.figure(told.breusch_pagan.lm, 3)}, {d.p_value(one.p)})"
        )
    if one.name == "order":
        way = "alike" if one.size > 0 else "opposite"
        return (
            f"each residual and the one before are {way} by {d.signed(one.size, 2)} "
            f"(Durbin–Watson {d.figure(told.durbin_watson.d, 3)}, {d.p_value(one.p)})"
        )
    if one.name == "shape":
        return (
            f"skewness {d.signed(told.skewness, 2)}, tails {d.signed(told.excess_kurtosis, 2)} against 0 "
            f"({d.p_value(one.p)})"
        )
    if one.name == "far-out":
        return f"|t| reaches {d.figure(one.size, 3)}, p times n {d.p_value(one.p).removeprefix('p ')}"
    return (
        f"leaving one row out moves the line by a Cook’s distance of {d.figure(one.size, 2)} "
        f"({d.p_value(one.p)} among true lines over these x)"
    )


def _headline(findings: Findings, one: Doubt) -> str:
    x = names_of(findings.x_column, findings.y_column).x
    if one.verdict is Verdict.FEW:
        return f"Too few rows to tell. {QUESTIONS[one.name]}"
    if one.verdict is Verdict.NO:
        return {
            "bend": f"No sign of a bend along {x}.",
            "spread": f"No sign that the residuals grow or shrink with {x}.",
            "order": "No sign that neighbours are alike.",
            "shape": "No sign that the residuals are lopsided or heavy at the ends.",
            "far-out": "No row lies farther out than luck puts it.",
            "pull": "No row decides the line by itself.",
        }[one.name]
    much = "clearly" if one.verdict is Verdict.CLEAR else "to some degree"
    if one.name == "spread" and one.size is not None:
        way = "grow" if one.size >= 1 else "shrink"
        return f"The residuals {way} {much} as {x} rises."
    return {
        "bend": f"The band bends {much} along {x}.",
        "spread": f"The residuals change {much} in width with {x}.",
        "order": f"Neighbouring residuals go {much} together.",
        "shape": f"The residuals are {much} not normal in shape.",
        "far-out": f"Some rows lie {much} farther out than luck puts them.",
        "pull": f"Some rows pull the line {much}.",
    }[one.name]


def _verdict_sentence(findings: Findings, one: Doubt) -> str:
    alpha = findings.rules.alpha
    if one.p is None:
        return f"It cannot be judged: {_why(findings, one)}."
    told = _size_in_words(findings, one)
    first = told[0].upper() + told[1:]
    if one.verdict is Verdict.CLEAR:
        return f"{first}. A clear sign: p is at most α/{CLEAR:g} and the size counts."
    if one.verdict is Verdict.SOME:
        return f"{first}. Some sign: p is at most α = {alpha:g}, and the size counts, short of a clear one."
    if one.verdict is Verdict.FEW:
        chance = one.seen.chances[1] if one.seen else 0.0
        return (
            f"{first}. But with {findings.pairs.n} rows even a strong departure would be noticed only "
            f"{round(100 * chance)} times in 100."
        )
    small = "" if one.p > alpha else " p is small, but the size does not count."
    return f"{first}.{small}"


def _why(findings: Findings, one: Doubt) -> str:
    told = findings.checks
    reasons = {
        "bend": told.curvature.why.get("p"),
        "spread": told.breusch_pagan.why.get("p"),
        "order": told.durbin_watson.why.get("p_two_sided"),
        "shape": told.shapiro_wilk.why.get("p"),
        "far-out": findings.rows.why.get("outlier_p"),
        "pull": findings.rows.why.get("cooks_d"),
    }
    found = reasons[one.name]
    return cause(found) if found else "there are too few pairs for it"


def _consequence(one: Doubt) -> tuple[str, ...]:
    if one.verdict not in (Verdict.CLEAR, Verdict.SOME):
        return ()
    return {
        "bend": (
            "A straight line is then not the middle of the data everywhere; its forecasts err by stretches.",
        ),
        "spread": (
            "The line is still the right middle, but its usual errors and intervals are not to be trusted.",
        ),
        "order": (
            "The rows then count for fewer than they are: where neighbours are alike, usual errors "
            "come out too small.",
        ),
        "shape": ("Slope and interval bear this well in many rows; the interval for one case does not.",),
        "far-out": ("Look at the row’s own story before anything is done to it.",),
        "pull": ("See the line with and without it before trusting either.",),
    }[one.name]


def seen_sentence(told: Seen) -> str:
    """What a check could have seen, in chances out of 100."""
    mild, strong, extreme = (round(100 * chance) for chance in told.chances)
    sizes = [f"{size:g}" for size in DEPARTURES[told.doubt]]
    first = _DEPARTURE_WORDS[told.doubt].format(sizes[0])
    return (
        f"{first[0].upper()}{first[1:]} would be noticed {mild} times in 100; by {sizes[1]}, {strong} times; "
        f"by {sizes[2]}, {extreme} times ({told.draws} simulated lines over these x)."
    )


def _answers(findings: Findings) -> tuple[str, ...]:
    told = []
    for one in findings.doubts:
        answer = findings.answer_to(one.name)
        if answer and one.verdict in (Verdict.CLEAR, Verdict.SOME):
            told.append(f"{QUESTIONS[one.name].rstrip('?')}: answered by {answer}.")
    return tuple(told)


def _few_rows(findings: Findings, told: tuple[Doubt, ...]) -> tuple[str, ...]:
    few = [QUESTIONS[one.name].rstrip("?").lower() for one in told if one.verdict is Verdict.FEW]
    if not few or findings.fit.exact:
        return ()
    return (
        f"With {findings.pairs.n} rows there are too few to tell: {', '.join(few)}. "
        "That is not the same as no sign.",
    )


def lineup_sentences(findings: Findings) -> tuple[str, ...]:
    """What the lineups kept so far say; empty without any."""
    kept = findings.tether.lineups
    if not kept:
        return ()
    found = sum(one.picked == one.real for one in kept)
    luck = d.percent(1 / kept[-1].of, 0)
    return (
        f"Lineup: the real picture was picked in {found} of {d.count(len(kept), 'try', 'tries')}; "
        f"by luck alone each try would find it with a chance of {luck}.",
    )


def _tests(findings: Findings, name: str) -> tuple[Figure, ...]:
    told, digits = findings.checks, findings.rules.digits
    show = partial(d.figure, digits=digits)
    if name == "bend":
        lack = told.lack_of_fit
        return (
            Figure(
                f"curvature, t ({told.curvature.df} df)", show(told.curvature.t), d.p_value(told.curvature.p)
            ),
            Figure("powers of fitted, F", show(told.reset.f), d.p_value(told.reset.p)),
            Figure(
                "repeated x, F", show(lack.f), d.p_value(lack.p) if lack.f is not None else "no x repeats"
            ),
        )
    if name == "spread":
        return (
            Figure("Breusch–Pagan", show(told.breusch_pagan.lm), d.p_value(told.breusch_pagan.p)),
            Figure("White", show(told.white.lm), d.p_value(told.white.p)),
            Figure("spread ratio", show(told.spread_ratio), "upper third / lower"),
        )
    if name == "order":
        return (
            Figure("Durbin–Watson d", show(told.durbin_watson.d), d.p_value(told.durbin_watson.p_two_sided)),
            Figure("alike neighbours only", "", d.p_value(told.durbin_watson.p_positive)),
            Figure("lag 1", d.coefficient(told.durbin_watson.lag1, digits)),
            Figure("runs of one sign", str(told.runs.runs or d.NONE), d.p_value(told.runs.p)),
            Figure("signs + and −", f"{told.runs.n_plus} and {told.runs.n_minus}", f"z {show(told.runs.z)}"),
        )
    if name == "shape":
        return (
            Figure("Shapiro–Wilk W", show(told.shapiro_wilk.w), d.p_value(told.shapiro_wilk.p)),
            Figure(
                "Anderson–Darling A²*",
                show(told.anderson_darling.a2_star),
                d.p_value(told.anderson_darling.p),
            ),
            Figure("Jarque–Bera", show(told.jarque_bera.jb), d.p_value(told.jarque_bera.p)),
            Figure("skewness", d.signed(told.skewness, digits)),
            Figure("excess kurtosis", d.signed(told.excess_kurtosis, digits)),
        )
    rows = findings.rows
    if name == "far-out":
        box = told.fences
        return (
            Figure("largest |t|", show(findings.doubt(name).size), d.p_value(findings.doubt(name).p)),
            Figure("fences of the residuals", f"{show(box.lower)} … {show(box.upper)}"),
            Figure("rows beyond the fences", str(len(box.rows))),
        )
    top = float(rows.leverage.max())
    return (
        Figure("largest Cook’s distance", show(findings.doubt(name).size), d.p_value(findings.doubt(name).p)),
        Figure("largest leverage", show(top), f"mean {show(findings.fit.parameters / findings.pairs.n)}"),
    )


def doubts_working(findings: Findings) -> tuple[Working, ...]:
    """The checks with the sums they rest on."""
    told, n = findings.checks, findings.pairs.n
    fine = partial(d.figure, digits=7)
    dw, runs, jb = told.durbin_watson, told.runs, told.jarque_bera
    sse = findings.line.ss_residual
    made = [
        Working(
            "Bend",
            (
                Step(
                    "curvature",
                    f"t of an added (x − x̄)² term on {told.curvature.df} df",
                    fine(told.curvature.t),
                ),
                Step("share", "what the term takes of SSE", d.percent(told.curvature.share, 4)),
                Step("powers of fitted", f"F on ({told.reset.df1}, {told.reset.df2})", fine(told.reset.f)),
            ),
        ),
        Working(
            "Spread",
            (
                Step("Breusch–Pagan", f"n·R² of e² on x, n = {n}", fine(told.breusch_pagan.lm)),
                Step("White", f"n·R² of e² on x and x², {told.white.df} df", fine(told.white.lm)),
                Step(
                    "ratio",
                    f"sd of the upper {n // 3} residuals by x / sd of the lower {n // 3}",
                    fine(told.spread_ratio),
                ),
            ),
        ),
        Working(
            "Order",
            (
                Step("d", f"Σ(e − e before)² / Σe², Σe² = {fine(sse)}", fine(dw.d)),
                Step("lag 1", "Σ e·(e before) / Σe²", fine(dw.lag1)),
                Step(
                    "runs",
                    f"{runs.n_plus} above, {runs.n_minus} below: expected {_expected_runs(runs)}",
                    str(runs.runs),
                ),
                Step("z of runs", "(runs − expected) / their sd", fine(runs.z)),
            ),
        ),
        Working(
            "Shape",
            (
                Step("skewness", "Σe³/n / (Σe²/n)^1.5", fine(told.skewness)),
                Step("excess kurtosis", "Σe⁴/n / (Σe²/n)² − 3", fine(told.excess_kurtosis)),
                Step("Jarque–Bera", f"n(g1² + g2²/4)/6, n = {n}", fine(jb.jb)),
                Step("A²*", "A²(1 + 0.75/n + 2.25/n²)", fine(told.anderson_darling.a2_star)),
            ),
        ),
    ]
    return tuple(made)


def _expected_runs(runs: Runs) -> str:
    both = runs.n_plus + runs.n_minus
    return d.figure(2 * runs.n_plus * runs.n_minus / both + 1, 7) if both else d.NONE
