"""Studies and edits as JSON: arrays go as base64 doubles or as lists of texts."""

from __future__ import annotations

import base64
from functools import cache
from typing import Any, get_origin

import msgspec
import numpy as np

from bright_tether.study.asides import Aside, Asides
from bright_tether.study.edits import Edit
from bright_tether.study.older import renewed
from bright_tether.tables.texts import Texts
from bright_tether.tables.writing import printable


def _plain(value: Any) -> Any:
    if isinstance(value, Texts):
        return {"texts": value.tolist()}
    if isinstance(value, np.ndarray):
        if value.dtype == object:
            return {"texts": value.tolist()}
        kind = "ids" if value.dtype == np.int64 else "numbers"
        return {kind: base64.b64encode(np.ascontiguousarray(value).tobytes()).decode("ascii")}
    if isinstance(value, Asides):
        return list(value)
    if isinstance(value, str):  # words that know what they stand for are kept as words
        return str(value)
    raise NotImplementedError(type(value))


def held(kind: type, plain: Any) -> Any:
    """What JSON has no kind of its own for."""
    if kind is Asides:
        return Asides.told(msgspec.convert(plain, list[Aside]))
    if (get_origin(kind) or kind) is not np.ndarray:
        raise NotImplementedError(kind)
    if "texts" in plain:
        return np.array(plain["texts"], dtype=object)
    key, dtype = ("ids", np.int64) if "ids" in plain else ("numbers", np.float64)
    return np.frombuffer(base64.b64decode(plain[key]), dtype).copy()


def encoded(value: Any) -> bytes:
    """Any value of a study as JSON; halves of characters, which no JSON can hold, as question marks."""
    try:
        return _ENCODER.encode(value)
    except UnicodeEncodeError:
        return _ENCODER.encode(_sound(msgspec.to_builtins(value, enc_hook=_plain)))


def _sound(value: Any) -> Any:
    if isinstance(value, str):
        return printable(value)
    if isinstance(value, dict):
        return {_sound(key): _sound(one) for key, one in value.items()}
    if isinstance(value, list | tuple):
        return [_sound(one) for one in value]
    return value


_ENCODER = msgspec.json.Encoder(enc_hook=_plain)


@cache
def _decoder() -> msgspec.json.Decoder[Edit]:
    """Made when it is first asked for: all kinds of edits are gone through for it."""
    return msgspec.json.Decoder(Edit, dec_hook=held)


#: So many values of one tuple are taken for alike; the bytes of one that is a record, and of a cell.
_ALIKE, _STRUCT, _CELL = 1000, 60, 8


def weight(value: Any) -> int:
    """About how many bytes the arrays of a value take as JSON; nothing is encoded to find out."""
    if isinstance(value, np.ndarray | Texts):
        return value.size * 4 if value.dtype == object else value.nbytes * 4 // 3
    if isinstance(value, Asides):
        return 40 * len(value)
    if isinstance(value, msgspec.Struct):
        return sum(weight(getattr(value, name)) for name in value.__struct_fields__)
    if not isinstance(value, tuple) or not value:
        return 0
    if len(value) > _ALIKE:
        return len(value) * (weight(value[0]) + (_STRUCT if isinstance(value[0], msgspec.Struct) else _CELL))
    return sum(map(weight, value))


def encode_edit(edit: Edit) -> bytes:
    """An edit as one line of JSON."""
    return encoded(edit)


def decode_edit(line: bytes, version: int) -> Edit:
    """The edit in one line of JSON, written with a version of the study file. Raises msgspec.MsgspecError."""
    if version == 1:
        line = msgspec.json.encode(renewed(msgspec.json.decode(line)))
    edit: Edit = _decoder().decode(line)
    return edit
