"""Arrow with memory of the C library, and columns of it as dictionaries."""

from __future__ import annotations

import os
from typing import Any


def arrow() -> Any:
    """The library, loaded where it is used. Its own pools keep much of what threads read; this one gives it back."""
    # heeded when it is loaded, and by its own threads; then for what is asked of it, should another have loaded it
    os.environ.setdefault("ARROW_DEFAULT_MEMORY_POOL", "system")
    import pyarrow as pa

    pa.set_memory_pool(pa.system_memory_pool())
    return pa


def by_words(cells: Any) -> Any:
    """A column, whatever its chunks, as one array of codes and different values. Raises ArrowException."""
    found = cells.combine_chunks().dictionary_encode()
    return found.unify_dictionaries().combine_chunks() if hasattr(found, "unify_dictionaries") else found
