"""What stands in a folder that is handed over, for whoever receives it."""

from __future__ import annotations

from collections.abc import Iterable, Mapping

from bright_tether.words.said import listed

_WHAT = {
    "study.tether": "the study: open it with Bright Tether, all its data are in it",
    "account.html": "the account, for any browser",
    "account.pdf": "the account, for paper and screen readers",
    "account.docx": "the account, to go on writing",
    "evidence/results.json": "every result of every line",
    "evidence/figures.json": "every figure of the account with what it is",
    "evidence/reproduce.py": "works the figures out again: python evidence/reproduce.py (NumPy and SciPy)",
    "evidence/references.bib": "what the methods rest on, as BibTeX",
    "evidence/references.json": "the same as CSL JSON",
}
_KINDS = {
    "data/": "a file that a table was read from, as it was read",
    "evidence/pairs-": "the rows of a line, with what became of each",
    "evidence/table-": "a table of the account",
    "evidence/picture-": "a picture of the account",
}


def list_of_files(
    title: str, written: str, version: str, sums: Mapping[str, str], missing: Iterable[str]
) -> str:
    """The list. sums : SHA-256 by name; missing : names of data files that did not go along."""
    lines = [title, f"Written {written} with Bright Tether {version}.", ""]
    absent = [f"“{name}”" for name in missing]
    if absent:
        be, it = ("is", "it was") if len(absent) == 1 else ("are", "they were")
        lines += [
            f"Not among the data {be} {listed(absent)}, which {be} no longer there as {it} read; "
            "the rows are in the study all the same.",
            "",
        ]
    for name, digest in sums.items():
        what = _WHAT.get(name) or next((w for start, w in _KINDS.items() if name.startswith(start)), "")
        lines += [f"{name}: {what}" if what else name, f"  SHA-256 {digest}"]
    return "\n".join(lines) + "\n"


def left_behind(missing: Iterable[str]) -> str:
    """Which data files did not go along; "" where all did."""
    names = [f"“{name}”" for name in missing]
    if not names:
        return ""
    be, it = ("is", "it was") if len(names) == 1 else ("are", "they were")
    return f" {listed(names)} {be} no longer there as {it} read: the rows go along in the study."
