"""What came of reading a file again."""

from __future__ import annotations

from bright_tether.study.reread import Reread
from bright_tether.words import digits as d


def reread_sentence(reread: Reread, name: str) -> str:
    """What changed, what stayed, or why nothing was touched."""
    if reread.unsure is not None:
        return (
            f"“{name}” was left as it is: row {reread.unsure} was set aside or mended here, and it cannot "
            "be told for sure which row of the file it is now. Give the rows a column of labels without "
            "repeats, or take that back first."
        )
    parts = [
        f"{d.count(many, what)} {words}"
        for many, what, words in (
            (reread.new, "row", "new"),
            (reread.gone, "row", "gone"),
            (reread.changed, "cell", "changed"),
            (reread.kept, "mended cell", "kept as mended"),
            (reread.dropped, "mended cell", "overtaken by the file"),
            (reread.by_hand, "row", "typed here kept at the end"),
        )
        if many
    ]
    by = (
        f", told apart by {reread.label}"
        if reread.label and (reread.new or reread.gone or reread.changed)
        else ""
    )
    return f"“{name}” read again{by}: {', '.join(parts) if parts else 'nothing changed'}."
