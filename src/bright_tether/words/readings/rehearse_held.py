"""What the step Rehearse says of the slope with columns held."""

from __future__ import annotations

import math
from functools import partial
from typing import TYPE_CHECKING

from bright_tether.claims.held import not_held_claim
from bright_tether.claims.line import exact_claim
from bright_tether.claims.rehearse import bias_claim, own_claim, simulated_claim, spread_claim
from bright_tether.claims.rehearse_held import AloneBesideClaim, alone_beside_claim
from bright_tether.claims.rows import ChoiceClaim
from bright_tether.core.centred import unscaled
from bright_tether.core.results import Refusal
from bright_tether.live.findings import Findings
from bright_tether.words import digits as d
from bright_tether.words.reading import Figure, Reading, Step, Working, names_of
from bright_tether.words.readings.held import not_held
from bright_tether.words.readings.rehearsed import (
    bias_sentence,
    caught_sentence,
    errors_in_words,
    own_sentence,
    sample_figures,
    sampled_beware,
    spread_sentence,
)
from bright_tether.words.said import Said, listed

if TYPE_CHECKING:
    from bright_tether.core.rehearse.held import HeldDraws


def held_samples_reading(findings: Findings, drawn: HeldDraws | None) -> Reading:
    """The slope held over and over, and the slope alone beside it."""
    try:
        longer = findings.longer
    except Refusal as found:
        return Reading(headline=Said(not_held(findings, found), not_held_claim(found)))
    held = listed(one.short for one in findings.held_cells)
    if longer.exact:
        said = f"With {held} held every pair lies on the line: without scatter each sample would be the same."
        return Reading(
            headline=Said(said, ChoiceClaim(what="held_samples", value="exact"), exact_claim(findings))
        )
    one = None if drawn is None else findings.held_sampled(drawn)
    if one is None or drawn is None:
        return Reading(headline=Said("No samples drawn yet.", ChoiceClaim(what="samples", value="0")),
                       sentences=(_source_sentence(findings, held, None),))  # fmt: skip
    names, digits = names_of(findings.x_column, findings.y_column), findings.rules.digits
    fine, bias = d.decimals_for(one.mean_error, digits, one.mean), bias_claim(one)
    alone = alone_beside_claim(findings, drawn)
    coarse = d.decimals_for(alone.error, digits, alone.mean)
    own = None if drawn.by_rows else longer.slope_unscaled(longer.slope_scaled)
    beside = Figure("slope, alone", d.fixed(alone.mean, coarse), d.half(alone.error, coarse))
    figures = sample_figures(one, digits, beside, whole=drawn.done == findings.tether.rehearse.draws)
    return Reading(
        headline=Said(
            f"Over {d.grouped(one.draws)} samples the slope with {held} held came out at {d.fixed(one.mean, fine)} on "
            "average.", bias,
        ),
        sentences=(
            _source_sentence(findings, held, drawn), bias_sentence(bias, drawn.by_rows, fine),
            spread_sentence(spread_claim(one), "slope"), caught_sentence(simulated_claim(one), one),
            *own_sentence(own_claim(own, one, drawn.by_rows), one, digits),
            alone_sentence(alone, coarse, names.slope_unit),
        ),
        figures=figures,
        beware=sampled_beware(findings.tether.rehearse.source, by_rows=drawn.by_rows, n=longer.n),
    )  # fmt: skip


def alone_sentence(claim: AloneBesideClaim, fine: int, unit: str) -> Said:
    """What the slope alone does on the same samples."""
    held, per = listed(claim.names), f" {unit}" if unit else ""
    mean = f"{d.fixed(claim.mean, fine)}{per} on average (sd {d.figure(claim.sd, 3)})"
    if claim.by_rows:
        return Said(f"On the same samples the slope alone came out at {mean}.", claim)
    return Said(
        f"On the same samples the slope alone came out at {mean}: were the line with {held} held the true one, it "
        f"would aim at {d.fixed(claim.aims, fine)} and not at {d.fixed(claim.held, fine)}, however many rows there "
        "were.",
        claim,
    )


def _source_sentence(findings: Findings, held: str, drawn: HeldDraws | None) -> Said:
    chosen, longer = findings.tether.rehearse, findings.longer
    claim = ChoiceClaim(what="source", value=chosen.source)
    if chosen.source == "rows":
        cases = findings.held_cases_drawn
        again = drawn.redrawn if drawn else 0
        anew = f"; {d.count(again, 'draw')} that left no slope drawn anew" if again else ""
        many = f"{d.grouped(longer.n)} of the {d.grouped(longer.n)} rows" if cases is None else (
            f"{int(cases.max()) + 1} of the {int(cases.max()) + 1} cases with all their rows"
        )  # fmt: skip
        return Said(
            f"Each sample is {many}, drawn with replacement, with what is held (seed {chosen.seed}{anew}).",
            claim,
        )
    truth, digits = findings.held_truth, findings.rules.digits + 1
    assert truth is not None
    slope, errors = d.figure(truth.slope, digits), errors_in_words(truth, chosen.source, digits)
    return Said(
        f"Each sample has {d.grouped(longer.n)} pairs on the line with {held} held, a slope of {slope}, with {errors}; "
        f"x and what is held kept as measured; seed {chosen.seed}.", claim,
    )  # fmt: skip


def held_samples_working(findings: Findings) -> tuple[Working, ...]:
    """The formula's standard error of the slope held, with its numbers."""
    longer = findings.longer_if_any
    if longer is None or longer.exact:
        return ()
    fine, x, y = partial(d.figure, digits=7), longer.x.exponent, longer.y.exponent
    left = longer.left.sum_squares
    steps = (
        Step(
            "s",
            f"√(sum of squared residuals / {longer.residual_df})",
            fine(longer.height_unscaled(longer.s_scaled)),
        ),
        Step("Sxx held", "Σ of the squares of what the held columns leave of x", fine(unscaled(left, 2 * x))),
        Step("se of the slope", "s / √Sxx held", fine(unscaled(longer.s_scaled / math.sqrt(left), y - x))),
    )
    return (Working("The standard error of the slope held by formula", steps),)
