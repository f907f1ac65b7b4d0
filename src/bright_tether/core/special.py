"""SciPy's special functions, without the half of NumPy that their package would bring along unused.

The package copies every name of NumPy, and so loads its testing tools, masked arrays and wrappers of Fortran: a tenth
of a second at each start. While it is loaded, NumPy shows it only the names that are there already.
"""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager

import numpy as np

_LISTS = ("__all__", "__numpy_submodules__")


@contextmanager
def _only_what_is_there() -> Iterator[None]:
    """Leave out of NumPy's lists of its own names those that would be loaded first."""
    lists = {name: getattr(np, name) for name in _LISTS if hasattr(np, name)}
    try:
        for name, names in lists.items():
            setattr(np, name, type(names)(one for one in names if one in vars(np)))
        yield
    finally:
        for name, names in lists.items():
            setattr(np, name, names)


with _only_what_is_there():
    from scipy import special

__all__ = ["special"]
