"""What came of reading a file again."""

from __future__ import annotations

from bright_tether.study.reread import Reread
from bright_tether.words import digits as d


def reread_sentence(made: Reread, name: str) -> str:
    """What changed, what stayed, or why nothing was touched."""
    if made.unsure is not None:
        return (
            f"“{name}” was left as it is: row {made.unsure} was set aside or mended here, and it cannot "
            "be told for sure which row of the file it is now. Give the rows a column of labels without "
            "repeats, or take that back first."
        )
    parts = [
        f"{d.count(many, what)} {words}"
        for many, what, words in (
            (made.new, "row", "new"),
            (made.gone, "row", "gone"),
            (made.changed, "cell", "changed"),
            (made.kept, "mended cell", "kept as mended"),
            (made.dropped, "mended cell", "overtaken by the file"),
            (made.by_hand, "row", "typed here kept at the end"),
        )
        if many
    ]
    by = f", told apart by {made.label}" if made.label and (made.new or made.gone or made.changed) else ""
    return f"“{name}” read again{by}: {', '.join(parts) if parts else 'nothing changed'}."
