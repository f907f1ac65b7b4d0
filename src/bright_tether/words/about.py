"""What this program is: version, licence, and the libraries it stands on."""

from __future__ import annotations

from importlib.metadata import PackageNotFoundError, version

NAME = "Bright Tether"
LICENCE = "GPL-3.0-or-later"
#: Libraries by the names of their packages, each with what it does here and its licence.
_LIBRARIES = (
    ("numpy", "arithmetic on arrays", "BSD-3-Clause"),
    ("scipy", "distributions and special functions", "BSD-3-Clause"),
    ("PyQt6", "the window", "GPL-3.0-only"),
    ("pyqtgraph", "drawing of pictures", "MIT"),
    ("pyarrow", "reading of large tables", "Apache-2.0"),
    ("msgspec", "study files", "BSD-3-Clause"),
    ("python-calamine", "reading of workbooks", "MIT"),
    ("openpyxl", "writing of workbooks", "MIT"),
    ("odfdo", "text documents and sheets", "Apache-2.0"),
    ("python-docx", "documents of Office Open XML", "MIT"),
    ("Jinja2", "pages of the account", "BSD-3-Clause"),
)
FONT = "The font, Inter, is under the SIL Open Font License 1.1."


def own_version() -> str:
    """The version of this program, as installed; "unknown" for loose files."""
    return _version("bright-tether")


def version_line() -> str:
    """Name, version and licence in one line."""
    return f"{NAME} {own_version()}, {LICENCE}"


def libraries() -> tuple[tuple[str, str, str, str], ...]:
    """Name, version, purpose and licence of each library."""
    return tuple((name, _version(name), purpose, licence) for name, purpose, licence in _LIBRARIES)


def _version(package: str) -> str:
    try:
        return version(package)
    except PackageNotFoundError:
        return "unknown"
