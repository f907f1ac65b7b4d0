"""Results by declaration: each names its maker and what it rests on, in one line, and is kept beside that.

A maker is a plain function: it knows what it is handed and nothing else, so that an input which is not declared
cannot be used, and one which is left out is refused when the module is read.
"""

from __future__ import annotations

import inspect
from collections.abc import Callable
from functools import partial
from types import FunctionType
from typing import Any, Generic, Protocol, Self, TypeVar, overload

import msgspec

from bright_tether.core.results import Refusal
from bright_tether.study.memory import Memory, same_inputs

T = TypeVar("T")
T_co = TypeVar("T_co", covariant=True)
Q = TypeVar("Q")
A = TypeVar("A")
B = TypeVar("B")
C = TypeVar("C")
D = TypeVar("D")
E = TypeVar("E")
F = TypeVar("F")
G = TypeVar("G")
H = TypeVar("H")
K = TypeVar("K")
J = TypeVar("J")


class Holder(Protocol):
    """Whose results: what they rest on, where they are kept, and under which name."""

    @property
    def memory(self) -> Memory:
        """Where they are kept."""

    @property
    def owner(self) -> str:
        """The id that each key starts with."""


class Given(Generic[T_co]):
    """Something that a result may rest on. name : as it is called where it was declared."""

    name = ""

    def __set_name__(self, owner: type, name: str) -> None:
        self.name = name

    def value(self, holder: Any) -> T_co:
        """What it is for this holder. Raises Refusal."""
        raise NotImplementedError

    @overload
    def __get__(self, holder: None, owner: type) -> Self: ...
    @overload
    def __get__(self, holder: object, owner: type) -> T_co: ...
    def __get__(self, holder: object | None, owner: type) -> Self | T_co:
        return self if holder is None else self.value(holder)


class given(Given[T_co]):  # noqa: N801
    """Read off the study each time: a choice, a column's cells, or another result where it is asked for."""

    def __init__(self, read: Callable[[Any], T_co]) -> None:
        self._read = read
        self.__doc__ = read.__doc__

    def value(self, holder: Any) -> T_co:
        """Read it."""
        return self._read(holder)


class Result(Given[T_co]):
    """A result: made once from its inputs, and again when one of them is another."""

    def __init__(self, make: Callable[..., T_co], inputs: tuple[Given[Any], ...]) -> None:
        _fits(make, len(inputs))
        self.make, self.inputs = make, inputs
        self.__doc__ = make.__doc__

    def value(self, holder: Any) -> T_co:
        """Ask memory for it; within one holder it is asked once."""
        found = holder.memory.keep((holder.owner, self.name), self.make, *_values(self.inputs, holder))
        holder.__dict__[self.name] = found
        return found  # type: ignore[no-any-return]

    def kept(self, holder: Any) -> bool:
        """Whether it is there already, so that asking is free; nothing is made to find out."""
        if any(isinstance(one, Result) and not one.kept(holder) for one in self.inputs):
            return False
        try:
            return holder.memory.find((holder.owner, self.name), _values(self.inputs, holder)) is not None
        except Refusal:
            return False


class _WithOneMore(Generic[T]):
    """What is made from its inputs and one thing more that its maker is handed, or two."""

    name = ""

    def __init__(self, make: Callable[..., T], inputs: tuple[Given[Any], ...], more: int = 1) -> None:
        _fits(make, len(inputs) + more)
        self.make, self.inputs = make, inputs
        self.__doc__ = make.__doc__

    def __set_name__(self, owner: type, name: str) -> None:
        self.name = name


class Family(_WithOneMore[T], Generic[Q, T]):
    """Results that differ in one plain setting, which their maker is handed first."""

    @overload
    def __get__(self, holder: None, owner: type) -> Self: ...
    @overload
    def __get__(self, holder: Holder, owner: type) -> Callable[[Q], T]: ...
    def __get__(self, holder: Holder | None, owner: type) -> Self | Callable[[Q], T]:
        return self if holder is None else partial(self._member, holder)

    def _member(self, holder: Holder, setting: Q) -> T:
        key = (holder.owner, self.name, setting)
        return holder.memory.keep(key, self.make, setting, *_values(self.inputs, holder))


class Task(msgspec.Struct, Generic[T], frozen=True, eq=False):
    """A long run with what it is made from: it can be stopped, and files itself under that and nothing else.

    whole : whether a value is all that was asked for; what was stopped is not kept.
    """

    key: tuple[object, ...]
    inputs: tuple[object, ...]
    memory: Memory
    make: Callable[..., T]
    whole: Callable[..., bool]

    def run(self, progress: Callable[[Any], bool]) -> T:
        """Make it, and keep it where it came to its end. progress : told how far it is; False ends it early."""
        value = self.make(*self.inputs, progress)
        if self.whole(value, *self.inputs):
            self.memory.file(self.key, self.inputs, value)
        return value

    def same(self, other: Task[Any] | None) -> bool:
        """Whether another run is made from the same, and so has the same outcome."""
        return other is not None and self.key == other.key and same_inputs(self.inputs, other.inputs)

    @property
    def kept(self) -> T | None:
        """The outcome, if it is there already."""
        found = self.memory.find(self.key, self.inputs)
        return None if found is None else found[0]

    @property
    def outcome(self) -> T:
        """The whole outcome; made now where nobody did before. Raises Refusal."""
        return self.memory.keep(self.key, lambda *inputs: self.make(*inputs, _on), *self.inputs)


class Run(_WithOneMore[T]):
    """A long run by declaration: asking for it gives the task, which is handed its progress last."""

    def __init__(
        self, make: Callable[..., T], whole: Callable[..., bool], inputs: tuple[Given[Any], ...]
    ) -> None:
        super().__init__(make, inputs)
        self.whole = whole

    @overload
    def __get__(self, holder: None, owner: type) -> Self: ...
    @overload
    def __get__(self, holder: Holder, owner: type) -> Task[T]: ...
    def __get__(self, holder: Holder | None, owner: type) -> Self | Task[T]:
        if holder is None:
            return self
        return Task(
            (holder.owner, self.name), _values(self.inputs, holder), holder.memory, self.make, self.whole
        )


class RunFamily(_WithOneMore[T], Generic[Q, T]):
    """Long runs that differ in one plain setting, which their maker is handed first, and its progress last."""

    def __init__(
        self, make: Callable[..., T], whole: Callable[..., bool], inputs: tuple[Given[Any], ...]
    ) -> None:
        super().__init__(make, inputs, more=2)
        self.whole = whole

    @overload
    def __get__(self, holder: None, owner: type) -> Self: ...
    @overload
    def __get__(self, holder: Holder, owner: type) -> Callable[[Q], Task[T]]: ...
    def __get__(self, holder: Holder | None, owner: type) -> Self | Callable[[Q], Task[T]]:
        return self if holder is None else partial(self._member, holder)

    def _member(self, holder: Holder, setting: Q) -> Task[T]:
        inputs = (setting, *_values(self.inputs, holder))
        return Task((holder.owner, self.name, setting), inputs, holder.memory, self.make, self.whole)


def _on(progress: object) -> bool:
    return True


def _values(inputs: tuple[Given[Any], ...], holder: Any) -> tuple[object, ...]:
    # asked for by name, so that what this holder has at hand already is not looked up again
    return tuple(getattr(holder, one.name) for one in inputs)


def _fits(make: Callable[..., object], handed: int) -> None:
    """Refuse, when a module is read, a maker that is handed more or less than it takes."""
    if isinstance(make, FunctionType) and not make.__code__.co_kwonlyargcount:
        takes = make.__code__.co_argcount
        if takes - len(make.__defaults__ or ()) <= handed <= takes:
            return
    try:  # slower, for hundreds of makers at each start
        inspect.signature(make).bind(*range(handed))
    except TypeError as error:
        raise TypeError(f"{make.__module__}.{make.__qualname__}: {error}") from error


# fmt: off
@overload
def result(make: Callable[[A], T], a: Given[A], /) -> Result[T]: ...
@overload
def result(make: Callable[[A, B], T], a: Given[A], b: Given[B], /) -> Result[T]: ...
@overload
def result(make: Callable[[A, B, C], T], a: Given[A], b: Given[B], c: Given[C], /) -> Result[T]: ...
@overload
def result(make: Callable[[A, B, C, D], T],
           a: Given[A], b: Given[B], c: Given[C], d: Given[D],
           /) -> Result[T]: ...
@overload
def result(make: Callable[[A, B, C, D, E], T],
           a: Given[A], b: Given[B], c: Given[C], d: Given[D], e: Given[E],
           /) -> Result[T]: ...
@overload
def result(make: Callable[[A, B, C, D, E, F], T],
           a: Given[A], b: Given[B], c: Given[C], d: Given[D], e: Given[E],
           f: Given[F], /) -> Result[T]: ...
@overload
def result(make: Callable[[A, B, C, D, E, F, G], T],
           a: Given[A], b: Given[B], c: Given[C], d: Given[D], e: Given[E],
           f: Given[F], g: Given[G], /) -> Result[T]: ...
@overload
def result(make: Callable[[A, B, C, D, E, F, G, H], T],
           a: Given[A], b: Given[B], c: Given[C], d: Given[D], e: Given[E],
           f: Given[F], g: Given[G], h: Given[H], /) -> Result[T]: ...
@overload
def result(make: Callable[[A, B, C, D, E, F, G, H, K], T],
           a: Given[A], b: Given[B], c: Given[C], d: Given[D], e: Given[E],
           f: Given[F], g: Given[G], h: Given[H], k: Given[K], /) -> Result[T]: ...
@overload
def result(make: Callable[[A, B, C, D, E, F, G, H, K, J], T],
           a: Given[A], b: Given[B], c: Given[C], d: Given[D], e: Given[E],
           f: Given[F], g: Given[G], h: Given[H], k: Given[K], j: Given[J], /) -> Result[T]: ...
# fmt: on
def result(make: Callable[..., T], *inputs: Given[Any]) -> Result[T]:
    """A result made from these inputs, in the order in which its maker takes them. Raises TypeError."""
    return Result(make, inputs)


# fmt: off
@overload
def family(make: Callable[[Q, A], T], a: Given[A], /) -> Family[Q, T]: ...
@overload
def family(make: Callable[[Q, A, B], T], a: Given[A], b: Given[B], /) -> Family[Q, T]: ...
@overload
def family(make: Callable[[Q, A, B, C], T], a: Given[A], b: Given[B], c: Given[C], /) -> Family[Q, T]: ...
@overload
def family(make: Callable[[Q, A, B, C, D, E, F, G], T],
           a: Given[A], b: Given[B], c: Given[C], d: Given[D], e: Given[E],
           f: Given[F], g: Given[G], /) -> Family[Q, T]: ...
# fmt: on
def family(make: Callable[..., T], *inputs: Given[Any]) -> Family[Any, T]:
    """Results made from a setting and these inputs. Raises TypeError."""
    return Family(make, inputs)


def run(make: Callable[..., T], *inputs: Given[Any], whole: Callable[..., bool]) -> Run[T]:
    """A long run made from these inputs and what it tells its progress to. Raises TypeError.

    whole : handed the outcome and the inputs, says whether it is all that was asked for.
    """
    return Run(make, whole, inputs)


def runs(make: Callable[..., T], *inputs: Given[Any], whole: Callable[..., bool]) -> RunFamily[Any, T]:
    """Long runs made from a setting, these inputs and what they tell their progress to. Raises TypeError."""
    return RunFamily(make, whole, inputs)
