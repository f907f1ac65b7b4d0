"""Numbers as they are read, which still know what they are."""

from __future__ import annotations


class Shown(str):
    """A number, an interval or a few numbers in words. numbers : what it stands for, the two ends of an interval.

    names : what each of several is called where it stands alone: a name, or what is put behind that of the whole;
    without any they are the ends of an interval.
    """

    numbers: tuple[float, ...]
    names: tuple[str, ...]

    __slots__ = ("names", "numbers")

    def __new__(cls, text: str, *numbers: float, names: tuple[str, ...] = ()) -> Shown:
        """Word these numbers."""
        shown = super().__new__(cls, text)
        shown.numbers, shown.names = numbers, names
        return shown

    def __getnewargs_ex__(self) -> tuple[tuple[object, ...], dict[str, object]]:
        """Copied and sent elsewhere with its numbers."""
        return (str(self), *self.numbers), {"names": self.names}
