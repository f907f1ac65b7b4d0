"""SciPy's special functions as they are compiled, without the package around them.

The package brings along other array libraries, orthogonal polynomials and half of NumPy, of which nothing is used here:
a tenth of a second at each start. Whoever imports the package later gets the same functions.
"""

from __future__ import annotations

import sys
from importlib import import_module
from pathlib import Path
from types import ModuleType
from typing import TYPE_CHECKING

import scipy

_PACKAGE = "scipy.special"


def _compiled() -> ModuleType:
    if _PACKAGE in sys.modules:
        return import_module(_PACKAGE)
    stands_in = ModuleType(_PACKAGE)
    stands_in.__path__ = [str(Path(scipy.__file__).parent / "special")]
    sys.modules[_PACKAGE] = stands_in
    try:
        return import_module(f"{_PACKAGE}._ufuncs")
    except ImportError:  # a SciPy that keeps them elsewhere
        pass
    finally:
        del sys.modules[_PACKAGE]
    return import_module(_PACKAGE)


if TYPE_CHECKING:
    from scipy import special
else:
    special = _compiled()

__all__ = ["special"]
