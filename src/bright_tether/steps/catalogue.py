"""The steps in the order in which they are walked. A new step is its module and one line here."""

from __future__ import annotations

from bright_tether.steps import compare, doubts, forecast, gather, line, look, rehearse, strength, write_up
from bright_tether.steps.step import Step

STEPS: tuple[Step, ...] = (
    gather.STEP,
    look.STEP,
    strength.STEP,
    line.STEP,
    doubts.STEP,
    compare.STEP,
    forecast.STEP,
    rehearse.STEP,
    write_up.STEP,
)
IDS = tuple(step.id for step in STEPS)
_BY_ID = {step.id: step for step in STEPS}


def step_of(step_id: str) -> Step:
    """The step with this id. Raises KeyError."""
    return _BY_ID[step_id]
