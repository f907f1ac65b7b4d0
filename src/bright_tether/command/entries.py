"""What stands behind an option: numbers, shares, counts, and dates where x is a date."""

from __future__ import annotations

import argparse
import math

from bright_tether.tables.clock import moment


class BadCall(Exception):
    """A call that cannot be carried out; its text is the one line for the user."""


def number(text: str) -> float:
    """A finite number."""
    try:
        value = float(text)
    except ValueError:
        raise argparse.ArgumentTypeError(f"{text} is not a number") from None
    if not math.isfinite(value):
        raise argparse.ArgumentTypeError(f"{text} is not a finite number")
    return value


def share(text: str) -> float:
    """A number between 0 and 1."""
    value = number(text)
    if not 0 < value < 1:
        raise argparse.ArgumentTypeError(f"{text} does not lie between 0 and 1")
    return value


def positive(text: str) -> float:
    """A number above 0."""
    value = number(text)
    if value <= 0:
        raise argparse.ArgumentTypeError(f"{text} is not above 0")
    return value


def whole(text: str) -> int:
    """A whole number of at least 1."""
    value = _int(text)
    if value < 1:
        raise argparse.ArgumentTypeError(f"{text} is not at least 1")
    return value


def _int(text: str) -> int:
    """A whole number, also as 1e6."""
    try:
        return int(text)
    except ValueError:
        value = number(text)
    if value != int(value):
        raise argparse.ArgumentTypeError(f"{text} is not a whole number")
    return int(value)


def seed(text: str) -> int:
    """A whole number of at least 0."""
    value = _int(text)
    if not 0 <= value < 2**63:
        raise argparse.ArgumentTypeError(f"{text} does not lie between 0 and 2**63 - 1")
    return value


def numbers(text: str) -> tuple[float, ...]:
    """Numbers set apart by commas."""
    return tuple(number(part) for part in text.split(",") if part.strip())


def points(text: str) -> tuple[float | str, ...]:
    """Numbers or dates set apart by commas."""
    parts = (part.strip() for part in text.split(","))
    return tuple(part if moment(part) is not None else number(part) for part in parts if part)


def day(text: str) -> str:
    """A day, year first."""
    if moment(text) is None:
        raise argparse.ArgumentTypeError(f"{text} is no day such as 2021-03-04")
    return text
