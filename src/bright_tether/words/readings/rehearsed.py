"""What is said of a statistic over many samples, whatever line they were drawn from."""

from __future__ import annotations

from typing import TYPE_CHECKING

from bright_tether.claims.rehearse import BiasClaim, OwnClaim, SimulatedClaim, SpreadClaim
from bright_tether.claims.rows import ChoiceClaim
from bright_tether.words import digits as d
from bright_tether.words.reading import Figure
from bright_tether.words.readings.planning import JUDGED_NAMES, by_luck_in_words, plus, share
from bright_tether.words.said import Said, capital

if TYPE_CHECKING:
    from bright_tether.core.rehearse.sampling import Sampling
    from bright_tether.core.rehearse.truth import Truth

STATISTIC_NAMES = {
    "slope": "slope",
    "intercept": "intercept",
    "r": "r",
    "r2": "r²",
    "forecast": "forecast",
}
SHAPES = {"normal": "normal", "skewed": "skewed", "heavy": "heavy-tailed", "own": "its own residuals"}
PATTERNS = {"even": "one sd everywhere", "fanning": "fanning with x"}
#: Fewer rows than this make resampling intervals too narrow.
_FEW_ROWS = 20


def errors_in_words(truth: Truth, source: str, digits: int) -> str:
    """What is drawn about a true line."""
    if source == "residuals":
        return f"residuals drawn from its own, widened to their sd {d.figure(truth.sd, digits)}"
    errors = f"{SHAPES[truth.shape]} errors of sd {d.figure(truth.sd, digits)}"
    errors += f", {PATTERNS[truth.pattern]}" if truth.pattern != "even" else ""
    return errors + (f", neighbours along x alike ({truth.alike:g})" if truth.alike else "")


def bias_sentence(claim: BiasClaim, by_rows: bool, fine: int) -> Said:
    """Whether the statistic is off on average."""
    truth = "the line of all rows" if by_rows else "the truth"
    size = f"{d.signed(claim.mean - claim.truth, fine + 1)} ± {d.fixed(claim.se, fine + 1)}"
    verdict = {
        "within simulation error": "no more than simulation error",
        "above": "more than simulation error explains: it comes out too high here",
        "below": "more than simulation error explains: it comes out too low here",
    }[claim.verdict]
    if luck := by_luck_in_words(claim):
        verdict = f"more than twice the simulation error, {luck}"
    shown = d.fixed(claim.truth, d.decimals_for(claim.se, 3, claim.truth))
    return Said(f"Against {truth}, {shown}, that is off by {size}: {verdict}.", claim)


def spread_sentence(claim: SpreadClaim, what: str) -> Said:
    """How the statistic varies from sample to sample, beside the formula."""
    sd = plus(claim.sd, claim.se)
    if claim.formula is None or claim.verdict is None:
        return Said(f"The {what} spreads with sd {sd} from sample to sample.", claim)
    formula = d.fixed(claim.formula, d.decimals_for(claim.se, 3, claim.formula))
    verdict = {
        "within simulation error": "which is the same within simulation error",
        "above": "and it varies more than that",
        "below": "and it varies less than that",
    }[claim.verdict]
    if luck := by_luck_in_words(claim):
        verdict = f"{verdict}, {luck}"
    return Said(
        f"From sample to sample it varies with sd {sd}; the formula's standard error is {formula}, {verdict}.",
        claim,
    )


def caught_sentence(claim: SimulatedClaim | None, one: Sampling) -> Said:
    """How often the intervals held the truth."""
    if claim is None and one.percentile is not None:
        said = "The samples are of the rows themselves: the interval is their middle, and there is no truth to hold it"
        return Said(f"{said} against.", ChoiceClaim(what="no_interval", value=one.statistic))
    if claim is None:
        return Said(f"{capital(STATISTIC_NAMES[one.statistic])} has no interval here, so none is judged.",
                    ChoiceClaim(what="no_interval", value=one.statistic))  # fmt: skip
    level, caught = d.level_in_words(claim.promised), share(claim.share, claim.se)
    kind = "" if one.statistic == "r" else f", by {JUDGED_NAMES[one.judged]} errors,"
    verdict = {
        "within simulation error": "the same as promised within simulation error",
        "above": "more than promised: they are wider than they need be",
        "below": "less than promised",
    }[claim.verdict]
    if luck := by_luck_in_words(claim):
        verdict = f"{'more' if claim.verdict == 'above' else 'less'} than promised, {luck}"
    return Said(f"{caught} of the {level} intervals{kind} held the truth, {verdict}.", claim)


def own_sentence(claim: OwnClaim | None, one: Sampling, digits: int) -> tuple[Said, ...]:
    """One's own value among the samples."""
    if claim is None:
        return ()
    shown = d.fixed(claim.own, d.decimals_for(one.sd, digits + 1, claim.own))
    if claim.is_truth:
        return (
            Said(f"Your sample's own, {shown}, is the truth drawn from: it stands in the middle.", claim),
        )
    many = f"{d.percent(claim.share)} of the" if claim.share else f"none of the {d.grouped(claim.draws)}"
    return (Said(f"Your sample's own is {shown}: {many} samples lie as far from the truth.", claim),)


def spread_decimals(one: Sampling, digits: int) -> int:
    """Decimals of what spreads as the samples do."""
    return d.decimals_for(one.sd_error, digits, one.sd)


def sample_figures(one: Sampling, digits: int, *beside: Figure, whole: bool) -> tuple[Figure, ...]:
    """A statistic over its samples. beside : what stands behind its errors; whole : whether all were drawn."""
    fine, spread = d.decimals_for(one.mean_error, digits, one.mean), spread_decimals(one, digits)
    figures = [
        Figure("mean", d.fixed(one.mean, fine), d.half(one.mean_error, fine)),
        Figure("truth", d.fixed(one.truth, fine)),
        Figure("sd", d.fixed(one.sd, spread), d.half(one.sd_error, spread)),
    ]
    if one.formula is not None:
        figures.append(Figure("se by formula", d.fixed(one.formula, spread)))
    figures += beside
    if one.caught is not None and one.caught_error is not None:
        figures.append(Figure("caught", d.percent(one.caught), d.half(100 * one.caught_error, 1)))
    if one.percentile is not None and whole:
        figures.append(
            Figure(f"percentile, {d.level_in_words(one.level)}", d.between(one.percentile, spread))
        )
    return tuple(figures)


def sampled_beware(source: str, *, by_rows: bool, n: int) -> tuple[Said, ...]:
    """What samples cannot show."""
    said = []
    if source in ("line", "residuals"):
        said.append(Said("What is rehearsed is the fitted line as if it were true; it cannot show that it is.",
                         ChoiceClaim(what="source", value=source)))  # fmt: skip
    if by_rows and n < _FEW_ROWS:
        said.append(Said(f"With {n} rows a resampling interval tends to be too narrow.",
                         ChoiceClaim(what="few_rows", value=str(n))))  # fmt: skip
    return tuple(said)
