"""The write-up as an OpenDocument text."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from io import BytesIO
from pathlib import Path

from odfdo import Cell, Document, Element, Frame, Header, HeaderRows, Paragraph, Row, Style, Table

from bright_tether.account.odf import own_document
from bright_tether.account.outward import Outward
from bright_tether.account.outward_text import plain
from bright_tether.account.page import Entry, Page
from bright_tether.account.plain_text import names_in, told_plainly
from bright_tether.account.svg import UnsafePicture, clean_svg
from bright_tether.study.pins import Block, Drawing, Figures, Grid, Passage, Steps
from bright_tether.study.study import Study
from bright_tether.tables.writing import put_made
from bright_tether.theme.tokens import LIGHT

#: Width of a picture on the page, in centimetres.
_WIDE = 16.0
#: What the names of its styles begin with.
_STYLE = "Account"


def write_odt(page: Page, study: Study, path: Path) -> None:
    """Write the page with headings, tables and vector pictures. Raises OSError."""
    document = _Document(page, study)
    for chapter in page.chapters:
        if chapter.name:
            document.heading(chapter.name, 2)
        if chapter.method:
            document.paragraph(" ".join(("Method.", *chapter.method)), "Method")
        for entry in chapter.entries:
            document.entry(entry)
    if page.rows:
        document.heading("Rows and exclusions", 2)
    for one in page.rows:
        document.heading(one.name, 3)
        for sentence in one.sentences:
            document.paragraph(sentence)
        for grid in one.grids:
            document.block(grid)
        if one.trail:
            document.paragraph("Changed after results were seen.", "Strong")
            for line in one.trail:
                document.paragraph(f"– {line}")
        else:
            document.paragraph("Nothing was changed after results were seen.")
    if page.references:
        document.heading("References", 2)
    for reference in page.references:
        document.paragraph(reference.line)
    put_made(path, document.file.save)


def tables_document(tables: Sequence[Outward]) -> Document:
    """A document of tables alone, each under its title."""
    writer = _Writer(told_plainly(()), "Tables", compact=True)
    for table in tables:
        rows = [tuple(plain(cell) for cell in row) for row in table.rows]
        writer.table(table.title, tuple(map(plain, table.heads)), rows, table.strong)
    return writer.file


class _Writer:
    def __init__(self, told: Callable[[str], str], title: str, *, compact: bool) -> None:
        self._told = told
        self.file = own_document("text", told(title))
        self._tables = self._pictures = 0
        self._styles(compact=compact)

    def heading(self, words: str, level: int) -> None:
        """A heading of the outline, without a number of its own."""
        head = Header(level, self._told(words), style=_STYLE + f"H{level}")
        head.set_attribute("text:is-list-header", "true")
        self._append(head)

    def paragraph(self, words: str, kind: str = "Plain") -> None:
        """A paragraph; its own line breaks stay."""
        self._append(Paragraph(self._told(words), style=_STYLE + kind))

    def _append(self, element: Element) -> None:
        self.file.body.append(element)

    def table(
        self, title: str, heads: tuple[str, ...], rows: Sequence[tuple[str, ...]], strong: int = -1
    ) -> None:
        """A table under its title."""
        if title:
            self.paragraph(title, "Quiet")
        self._tables += 1
        table = Table(f"Table{self._tables}")
        if heads:
            header = HeaderRows()
            header.append(self._row(heads, "Strong"))
            table.append(header)
        table.extend_rows(
            [self._row(row, "Strong" if at == strong else "Plain") for at, row in enumerate(rows)]
        )
        self._append(table)
        self.paragraph("")

    def _row(self, cells: tuple[str, ...], kind: str) -> Row:
        row, held = Row(), []
        for cell in cells:
            held.append(Cell(cell_type="string", style=_STYLE + "Cell"))
            held[-1].append(Paragraph(self._told(cell), style=_STYLE + kind))
        row.extend_cells(held)
        return row

    def _styles(self, *, compact: bool) -> None:
        base = 9 if compact else 11
        for name, size, weight, colour, ground in (
            ("H1", base + 9, "bold", LIGHT.ink, None), ("H2", base + 4, "bold", LIGHT.ink, None),
            ("H3", base + 1, "bold", LIGHT.ink, None), ("Plain", base, "normal", LIGHT.ink, None),
            ("Strong", base, "bold", LIGHT.ink, None), ("Quiet", base - 1, "normal", LIGHT.muted, None),
            ("Method", base, "normal", LIGHT.ink, LIGHT.paper), ("Note", base, "normal", LIGHT.ink, None),
            ("Beware", base, "normal", LIGHT.on_soft, LIGHT.tether_soft),
        ):  # fmt: skip
            one = Style("paragraph", name=_STYLE + name)
            one.set_properties({"fo:font-size": f"{size}pt", "fo:font-weight": weight, "fo:color": colour,
                                 "fo:font-family": "Inter"}, area="text")  # fmt: skip
            room = "0.05cm" if name in ("Plain", "Strong") else "0.15cm"
            ground_of = {} if ground is None else {"fo:background-color": ground, "fo:padding": "0.15cm"}
            one.set_properties(
                {"fo:margin-top": room, "fo:margin-bottom": room, **ground_of}, area="paragraph"
            )
            self.file.insert_style(one, automatic=True)
        cell = Style("table-cell", name=_STYLE + "Cell")
        cell.set_properties({"fo:border-bottom": f"0.5pt solid {LIGHT.hairline}", "fo:padding": "0.08cm"},
                            area="table-cell")  # fmt: skip
        self.file.insert_style(cell, automatic=True)


class _Document(_Writer):
    def __init__(self, page: Page, study: Study) -> None:
        super().__init__(told_plainly(names_in(study)), page.title, compact=page.style == "compact")
        self.heading(page.title, 1)
        self.paragraph(f"Written {page.written} with Bright Tether {page.version}.", "Quiet")
        if page.proposed:
            words = "Nothing is pinned yet: this account is proposed from the lines of the study."
            self.paragraph(words, "Quiet")

    def entry(self, entry: Entry) -> None:
        """One pin."""
        if entry.pin.part == "heading":
            self.heading(entry.pin.text, 2)
            return
        for block in entry.blocks:
            self.block(block)
        if entry.pin.text:
            self.paragraph(entry.pin.text, "Note")
        if entry.frozen:
            since = (
                f"Since then: {'; '.join(entry.since)}."
                if entry.since
                else "Nothing in it has changed since."
            )
            self.paragraph(f"Frozen {entry.frozen}. {since}", "Quiet")

    def block(self, block: Block) -> None:
        """One piece of a pin."""
        if isinstance(block, Passage):
            self.heading(block.title, 3)
            for sentence in block.sentences:
                self.paragraph(sentence)
            for at, sentence in enumerate(block.beware):
                self.paragraph(("Beware. " if not at else "") + sentence, "Beware")
        elif isinstance(block, Figures | Steps):
            self.table(block.title, (), block.rows)
        elif isinstance(block, Grid):
            self.table(block.title, block.heads, block.rows, block.strong)
        elif isinstance(block, Drawing):
            self._picture(block)

    def _picture(self, drawing: Drawing) -> None:
        try:
            svg = clean_svg(drawing.svg)
        except UnsafePicture:
            self.paragraph("This picture could not be read.")
            return
        self._pictures += 1
        tall = _WIDE * drawing.height / max(drawing.width, 1)
        place = self.file.add_file(BytesIO(svg.encode()))
        frame = Frame.image_frame(place, name=f"Picture{self._pictures}", size=(f"{_WIDE}cm", f"{tall:.2f}cm"),
                                  anchor_type="paragraph")  # fmt: skip
        frame.svg_description = self._told(drawing.words)
        held = Paragraph("", style=_STYLE + "Plain")
        held.append(frame)
        self._append(held)
        self.paragraph(drawing.title, "Quiet")
