"""The cells of a table that was copied from a page."""

from __future__ import annotations

from html.parser import HTMLParser


def table_of(html: str) -> list[list[str]]:
    """The first table with at least two cells, as rows of texts; [] where there is none.

    A cell that spans several columns stands in the first of them.
    """
    reader = _Reader()
    reader.feed(html)
    reader.close()
    for rows in reader.tables:
        rows = [row for row in rows if any(row)]
        width = max(map(len, rows), default=0)
        if width * len(rows) > 1:
            return [row + [""] * (width - len(row)) for row in rows]
    return []


class _Reader(HTMLParser):
    """Collects the texts of cells; what is struck out by a page (scripts, styles) is none."""

    def __init__(self) -> None:
        super().__init__()
        self.tables: list[list[list[str]]] = []
        self._open: list[list[list[str]]] = []
        self._text: list[str] | None = None
        self._span = 1
        self._hidden = 0

    def handle_starttag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:
        """A table, a row, a cell, a line break in it."""
        if tag in ("script", "style"):
            self._hidden += 1
        elif tag == "table":
            self._open.append([])
            self.tables.append(self._open[-1])
        elif tag == "tr" and self._open:
            self._end_cell()
            self._open[-1].append([])
        elif tag in ("td", "th") and self._open:
            self._end_cell()
            if not self._open[-1]:
                self._open[-1].append([])
            self._text = []
            span = dict(attrs).get("colspan") or "1"
            self._span = min(int(span), 1000) if span.isdigit() and int(span) > 0 else 1
        elif tag == "br" and self._text is not None:
            self._text.append(" ")

    def handle_endtag(self, tag: str) -> None:
        """The end of a cell, a row, a table."""
        if tag in ("script", "style"):
            self._hidden = max(self._hidden - 1, 0)
        elif tag in ("td", "th", "tr"):
            self._end_cell()
        elif tag == "table" and self._open:
            self._end_cell()
            self._open.pop()

    def handle_data(self, data: str) -> None:
        """Text inside a cell."""
        if self._text is not None and not self._hidden:
            self._text.append(data)

    def close(self) -> None:
        """The end of all, which ends the last cell too."""
        super().close()
        self._end_cell()

    def _end_cell(self) -> None:
        if self._text is None or not self._open:
            return
        if not self._open[-1]:
            self._open[-1].append([])
        self._open[-1][-1] += [" ".join("".join(self._text).split()), *([""] * (self._span - 1))]
        self._text, self._span = None, 1
