"""Numbers as they are read: true minus, grouped thousands, digits by the ground rules."""

from __future__ import annotations

import math
from collections.abc import Iterable

from bright_tether.tables.column import shown
from bright_tether.words.shown import Shown

NONE = "—"
_THIN = "\u202f"
#: Digits of a number that is read in powers of ten.
_IN_POWERS = 3


def fixed(value: float | None, decimals: int) -> str:
    """A number with this many decimals; beyond a dozen digits, in powers of ten."""
    if value is None or not math.isfinite(value):
        return NONE
    decimals = max(decimals, 0)
    if _in_powers(value, decimals):
        return Shown(_powers(value, _IN_POWERS), value)
    return Shown(_grouped(f"{value:.{decimals}f}"), value)


def _in_powers(value: float, decimals: int) -> bool:
    return value != 0 and (abs(value) >= 1e12 or decimals > 12)


def figure(value: float | None, digits: int) -> str:
    """A number with this many significant digits; whole parts are never rounded away."""
    if value is None or not math.isfinite(value):
        return NONE
    if value == 0:
        return Shown("0", 0.0)
    size = math.floor(math.log10(abs(value)))
    if size >= 12 or size < -6:
        return Shown(_powers(value, digits), value)
    return fixed(value, digits - 1 - size)


def entered(value: float) -> str:
    """A number as it was typed: all its digits, no more, and none of a float's dust."""
    if value == 0 or 1e-6 <= abs(value) < 1e12:
        return Shown(_grouped(shown(float(f"{value:.12g}"))), value)
    return figure(value, 6)


def to_error(value: float, error: float) -> str:
    """A value with the decimals its error can tell, ready to be read back as a number."""
    if not (error > 0 and math.isfinite(error)):
        return repr(value)
    decimals = -math.floor(math.log10(error))
    return shown(round(value, decimals))


def decimals_for(spread: float | None, digits: int, largest: float | None = None) -> int:
    """Decimals that show an estimate as finely as its standard error allows.

    The error keeps one digit fewer than the ground rules show. Without an error, the size of the
    estimate decides.
    """
    for size, lost in ((spread, 2), (largest, 1)):
        if size and math.isfinite(size):
            return max(digits - lost - math.floor(math.log10(abs(size))), 0)
    return digits


def decimals_as_written(values: Iterable[float], most: int) -> int:
    """Decimals with which values stand as they were written; at most so many."""
    texts = (f"{value:.12g}" for value in values)
    return min(most, max(most if "e" in text else len(text.partition(".")[2]) for text in texts))


def decimals_of(interval: tuple[float, float] | None, digits: int, largest: float | None = None) -> int:
    """Decimals that show an estimate as finely as its interval allows, whose quarter is about a standard error."""
    spread = None if interval is None else (interval[1] - interval[0]) / 4
    return decimals_for(spread, digits, largest)


def below_one(value: float, digits: int) -> str:
    """A share that reads 1 only when it is: 0.83, > 0.99."""
    text = f"{value:.{digits}f}"
    return Shown(f"> 0.{'9' * digits}" if float(text) >= 1 > value else text, value)


def signed(value: float | None, decimals: int) -> str:
    """A number that never loses its sign."""
    text = fixed(value, decimals)
    if value is None or text.startswith("−") or not _tells(text):
        return text
    return Shown(f"+{text}", value)


def coefficient(value: float | None, digits: int) -> str:
    """A coefficient between −1 and +1, with its sign; > +0.999 where it would round to 1 and is not."""
    if value is None:
        return NONE
    more, shown = _coefficient(value, digits)
    return Shown(f"{more} {shown}" if more else shown, value)


def relation(letter: str, value: float | None, digits: int) -> str:
    """A coefficient under its letter: r = +0.944, r > +0.999."""
    if value is None:
        return f"{letter} {NONE}"
    more, shown = _coefficient(value, digits)
    return f"{letter} {more or '='} {shown}"


def coefficients(interval: tuple[float, float] | None, digits: int) -> str:
    """An interval of a coefficient; its ends differ, keep 0 on its side, and are 1 only where they are."""
    if interval is None:
        return NONE
    for more in range(digits, digits + 16):
        low, high = (f"{end:+.{more}f}" for end in interval)
        apart = interval[0] == interval[1] or float(low) != float(high)
        if apart and all(_sided(end, float(text), (-1.0, 0.0, 1.0))
                         for end, text in zip(interval, (low, high), strict=True)):  # fmt: skip
            break
    ends = (text.replace("-", "−") if _tells(text) else text.lstrip("+-") for text in (low, high))
    return Shown(" … ".join(ends), *interval)


def _coefficient(value: float, digits: int) -> tuple[str, str]:
    """What stands before a coefficient where rounding would reach 1, and its digits with their sign."""
    shown, more = f"{abs(value):.{digits}f}", ""
    if float(shown) >= 1 > abs(value):
        shown, more = f"0.{'9' * max(digits, 1)}", ">" if value > 0 else "<"
    sign = "" if not _tells(shown) else "−" if value < 0 else "+"
    return more, sign + shown


def p_value(p: float | None) -> str:
    """A p with its relation: p = 0.034, p < 0.001, p > 0.999; never p = 0.000 or p = 1.000."""
    if p is None:
        return f"p {NONE}"
    if p < 0.001:
        return Shown("p < 0.001", p)
    return Shown("p > 0.999" if p >= 0.9995 else f"p = {p:.3f}", p)


def p_in_digits(p: float | None) -> str:
    """A p with its digits, however small: p = 0.034, p = 1.2·10⁻⁴⁶; below what a double holds, p < 10⁻³⁰⁰."""
    if p is None or p >= 0.001:
        return p_value(p)
    return Shown(f"p = {_powers(p, 3)}" if p > 1e-300 else "p < 10⁻³⁰⁰", p)


def percent(share: float | None, decimals: int = 1) -> str:
    """A share as a percentage that reads 100 % only when it is."""
    if share is None:
        return NONE
    text = f"{100 * share:.{decimals}f}"
    if float(text) == 0 and share > 0:
        return Shown(f"less than {10.0**-decimals:.{decimals}f} %", 100 * share)
    if float(text) == 100 and share < 1:
        return Shown(f"more than {100 - 10.0**-decimals:.{decimals}f} %", 100 * share)
    return Shown(f"{text} %", 100 * share)


def worded(text: str, *parts: str, names: tuple[str, ...] = ()) -> str:
    """Words with numbers in them, which stand for the numbers of these parts. names : of each where it stands alone."""
    numbers = [one for part in parts if isinstance(part, Shown) for one in part.numbers]
    return Shown(text, *numbers, names=names) if numbers and len(names) in (0, len(numbers)) else text


def level_in_words(level: float) -> str:
    """An interval level: 95 %."""
    return Shown(f"{100 * level:.10g} %", 100 * level)


def between(interval: tuple[float, float] | None, decimals: int, *tested: float, word: str = " … ") -> str:
    """An interval as it stands beside a figure: low … high.

    Its ends differ, and keep 0 and every tested value on their side, with as many decimals as that takes.
    """
    if interval is None:
        return NONE
    decimals = _enough(interval, max(decimals, 0), (0.0, *tested))
    if any(_in_powers(end, decimals) for end in interval):
        return Shown(word.join(_ends_in_powers(interval, decimals, (0.0, *tested))), *interval)
    return Shown(word.join(fixed(end, decimals) for end in interval), *interval)


def _ends_in_powers(interval: tuple[float, float], decimals: int, tested: tuple[float, ...]) -> list[str]:
    """Both ends, those that are read in powers of ten with as many digits as keep them apart and on their side."""
    for digits in range(_IN_POWERS, 18):
        rounded = [float(f"{end:.{digits - 1}e}") if _in_powers(end, decimals) else end for end in interval]
        apart = rounded[0] != rounded[1] or interval[0] == interval[1]
        if apart and all(_sided(end, one, tested) for end, one in zip(interval, rounded, strict=True)):
            break
    return [_powers(end, digits) if _in_powers(end, decimals) else fixed(end, decimals) for end in interval]


def _enough(interval: tuple[float, float], decimals: int, tested: tuple[float, ...]) -> int:
    """Decimals with which both ends of an interval stay apart and on their side of each tested value."""
    if not all(map(math.isfinite, interval)):
        return decimals
    for more in range(decimals, decimals + 12):
        low, high = (round(end, more) for end in interval)
        apart = low != high or interval[0] == interval[1]
        if apart and _sided(interval[0], low, tested) and _sided(interval[1], high, tested):
            return more
    return decimals


def _sided(value: float, rounded: float, tested: tuple[float, ...]) -> bool:
    """Whether a rounded value lies on the side of each tested one on which the value lies."""
    return all((value > one) == (rounded > one) and (value < one) == (rounded < one) for one in tested)


def _tells(text: str) -> bool:
    """Whether a shown number has a digit other than 0."""
    return any(digit in "123456789" for digit in text)


def half(value: float | None, decimals: int) -> str:
    """A half-width; nothing where there is none."""
    return "" if value is None else Shown(f"± {fixed(value, decimals)}", value)


def grouped(number: int | None) -> str:
    """A whole number with its thousands apart."""
    return NONE if number is None else Shown(_grouped(str(number)), number)


def count(number: int, one: str, many: str | None = None) -> str:
    """A count with its noun: 1 row, 64 rows."""
    return f"{_grouped(str(number))} {one if number == 1 else many or one + 's'}"


def _grouped(text: str) -> str:
    sign = "−" if text.startswith("-") else ""
    whole, point, part = text.lstrip("-").partition(".")
    if sign and not _tells(whole + part):
        sign = ""
    if len(whole) > 4:
        head = len(whole) % 3
        groups = ([whole[:head]] if head else []) + [whole[i : i + 3] for i in range(head, len(whole), 3)]
        whole = _THIN.join(groups)
    return sign + whole + point + part


def _powers(value: float, digits: int) -> str:
    mantissa, exponent = f"{value:.{max(digits - 1, 0)}e}".split("e")
    raised = str(int(exponent)).translate(str.maketrans("-0123456789", "⁻⁰¹²³⁴⁵⁶⁷⁸⁹"))
    return f"{mantissa.replace('-', '−')}·10{raised}"
