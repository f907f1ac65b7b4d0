"""What came of reading a file again."""

from __future__ import annotations

from bright_tether.claims.claim import NamedRow
from bright_tether.study.reread import Reread
from bright_tether.words import digits as d
from bright_tether.words.readings.rows import rows_in_words
from bright_tether.words.said import capital


def reread_sentence(reread: Reread, name: str) -> str:
    """What changed, what stayed, or why nothing was touched."""
    if reread.unsure:
        rows = rows_in_words(tuple(NamedRow(row=row, label="") for row in reread.unsure))
        was, it = ("was", "it is") if len(reread.unsure) == 1 else ("were", "they are")
        return (
            f"{capital(rows)} {was} set aside or mended here, and it cannot be told for sure which of the file’s rows "
            f"{it} now: say so, or choose another column that tells cases apart. Nothing is changed before that."
        )
    parts = [
        f"{d.count(many, what)} {words}"
        for many, what, words in (
            (reread.new, "row", "new"),
            (
                reread.gone,
                "row",
                f"gone, {d.grouped(reread.gone_aside)} set aside here" if reread.gone_aside else "gone",
            ),
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


def unsure_question(row: str, cells: str) -> str:
    """A row that has to be told. row : its place and name; cells : what stood in it."""
    return f"Which row of the file is {row}: {cells}?"
