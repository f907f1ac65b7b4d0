"""Arrow with memory of the C library, and columns of it as dictionaries."""

from __future__ import annotations

import os
import sys
from functools import cache
from typing import Any


@cache
def arrow() -> Any:
    """The library, loaded where it is used. Its own pools keep much of what threads read; this one gives it back."""
    # heeded when it is loaded, and by its own threads; then for what is asked of it, should another have loaded it
    os.environ.setdefault("ARROW_DEFAULT_MEMORY_POOL", "system")
    import pyarrow as pa

    pa.set_memory_pool(pa.system_memory_pool())
    _leave_out_pandas(pa)
    return pa


class _NoPandas:
    """Among those who are asked where modules are: one who says that there is no pandas."""

    @staticmethod
    def find_spec(name: str, *_: object) -> None:
        if name == "pandas":
            raise ModuleNotFoundError(name=name)


def _leave_out_pandas(pa: Any) -> None:
    """Where it happens to be installed, Arrow would load pandas, 54 MB in 0.4 s, to ask whether a value is one of its.

    Arrow looks for it once, at the first value.
    """
    if "pandas" in sys.modules:
        return
    sys.meta_path.insert(0, _NoPandas)
    try:
        pa.scalar(0)
    finally:
        sys.meta_path.remove(_NoPandas)


def by_words(cells: Any) -> Any:
    """A column, whatever its chunks, as one array of codes and different values. Raises ArrowException."""
    found = cells.combine_chunks().dictionary_encode()
    return found.unify_dictionaries().combine_chunks() if hasattr(found, "unify_dictionaries") else found
