"""Arrow with memory of the C library."""

from __future__ import annotations

import os
from typing import Any


def arrow() -> Any:
    """The library, loaded where it is used. Its own pools keep much of what threads read; this one gives it back."""
    os.environ.setdefault(
        "ARROW_DEFAULT_MEMORY_POOL", "system"
    )  # heeded when it is loaded, and by its own threads
    import pyarrow as pa

    # should another have loaded it before
    pa.set_memory_pool(pa.system_memory_pool())
    return pa
