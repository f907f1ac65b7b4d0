"""Numbers as they are read: true minus, grouped thousands, digits by the ground rules."""

from __future__ import annotations

import math

from bright_tether.tables.column import shown

NONE = "—"
_THIN = "\u202f"


def fixed(value: float | None, decimals: int) -> str:
    """A number with this many decimals; beyond a dozen digits, in powers of ten."""
    if value is None or not math.isfinite(value):
        return NONE
    decimals = max(decimals, 0)
    if value != 0 and (abs(value) >= 1e12 or decimals > 12):
        return _powers(value, 3)
    return _grouped(f"{value:.{decimals}f}")


def figure(value: float | None, digits: int) -> str:
    """A number with this many significant digits; whole parts are never rounded away."""
    if value is None or not math.isfinite(value):
        return NONE
    if value == 0:
        return "0"
    size = math.floor(math.log10(abs(value)))
    if size >= 12 or size < -6:
        return _powers(value, digits)
    return fixed(value, digits - 1 - size)


def entered(value: float) -> str:
    """A number as it was typed: all its digits, no more."""
    return _grouped(shown(value)) if 1e-6 <= abs(value) < 1e12 or value == 0 else figure(value, 6)


def to_error(value: float, error: float) -> str:
    """A value with the decimals its error can tell, ready to be read back as a number."""
    if not (error > 0 and math.isfinite(error)):
        return repr(value)
    decimals = -math.floor(math.log10(error))
    return shown(round(value, decimals))


def decimals_for(spread: float | None, digits: int, largest: float | None = 0.0) -> int:
    """Decimals that show an estimate as finely as its standard error allows.

    The error keeps one digit fewer than the ground rules show. Without an error, the size of the
    estimate decides.
    """
    for size, lost in ((spread, 2), (largest, 1)):
        if size and math.isfinite(size):
            return max(digits - lost - math.floor(math.log10(abs(size))), 0)
    return digits


def signed(value: float | None, decimals: int) -> str:
    """A number that never loses its sign."""
    text = fixed(value, decimals)
    return text if value is None or text.startswith("−") or value == 0 else f"+{text}"


def coefficient(value: float | None, digits: int) -> str:
    """A coefficient between −1 and +1, with its sign; with more digits where it would round to ±1."""
    if value is None:
        return NONE
    shown = f"{abs(value):.{digits}f}"
    while float(shown) == 1 and abs(value) < 1:
        digits += 1
        shown = f"{abs(value):.{digits}f}"
    return ("−" if value < 0 else "+" if value > 0 else "") + shown


def p_value(p: float | None) -> str:
    """A p with its relation: p = 0.034, p < 0.001; never p = 0.000 or p = 1.000 short of 1."""
    if p is None:
        return f"p {NONE}"
    if p < 0.001:
        return "p < 0.001"
    return "p > 0.999" if 0.9995 <= p < 1 else f"p = {p:.3f}"


def percent(share: float | None, decimals: int = 1) -> str:
    """A share as a percentage that reads 100 % only when it is."""
    if share is None:
        return NONE
    text = f"{100 * share:.{decimals}f}"
    if float(text) == 100 and share < 1:
        return f"more than {100 - 10.0**-decimals:.{decimals}f} %"
    return f"{text} %"


def level_in_words(level: float) -> str:
    """An interval level: 95 %."""
    return f"{100 * level:.10g} %"


def between(interval: tuple[float, float] | None, decimals: int) -> str:
    """An interval as it stands beside a figure: low … high."""
    if interval is None:
        return NONE
    low, high = (fixed(end, decimals) for end in interval)
    return f"{low} … {high}"


def half(value: float | None, decimals: int) -> str:
    """A half-width; nothing where there is none."""
    return "" if value is None else f"± {fixed(value, decimals)}"


def grouped(number: int | None) -> str:
    """A whole number with its thousands apart."""
    return NONE if number is None else _grouped(str(number))


def count(number: int, one: str, many: str | None = None) -> str:
    """A count with its noun: 1 row, 64 rows."""
    return f"{_grouped(str(number))} {one if number == 1 else many or one + 's'}"


def _grouped(text: str) -> str:
    sign = "−" if text.startswith("-") else ""
    whole, point, part = text.lstrip("-").partition(".")
    if sign and not any(digit in "123456789" for digit in whole + part):
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
