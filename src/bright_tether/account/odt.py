"""The write-up as an OpenDocument text."""

from __future__ import annotations

from pathlib import Path

from odf import draw, style, table, text
from odf.opendocument import OpenDocumentText

from bright_tether.account.page import Entry, Page
from bright_tether.account.plain_text import names_in, told_plainly
from bright_tether.account.svg import UnsafePicture, clean_svg
from bright_tether.study.pins import Block, Drawing, Figures, Grid, Passage, Steps
from bright_tether.study.study import Study
from bright_tether.tables.writing import put_made
from bright_tether.theme.tokens import LIGHT

#: Width of a picture on the page, in centimetres.
_WIDE = 16.0


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
    put_made(path, document.file.write)


class _Document:
    def __init__(self, page: Page, study: Study) -> None:
        self.file = OpenDocumentText()
        self._told = told_plainly(names_in(study))
        self._tables = self._pictures = 0
        self._styles(compact=page.style == "compact")
        self.heading(page.title, 1)
        self.paragraph(f"Written {page.written} with Bright Tether.", "Quiet")
        if page.proposed:
            words = "Nothing is pinned yet: this account is proposed from the lines of the study."
            self.paragraph(words, "Quiet")

    def heading(self, words: str, level: int) -> None:
        """A heading of the outline."""
        self.file.text.addElement(
            text.H(outlinelevel=level, stylename=self._named[f"H{level}"], text=self._told(words))
        )

    def paragraph(self, words: str, kind: str = "Plain") -> None:
        """A paragraph; its own line breaks stay."""
        made = text.P(stylename=self._named[kind])
        for at, line in enumerate(self._told(words).split("\n")):
            if at:
                made.addElement(text.LineBreak())
            made.addText(line)
        self.file.text.addElement(made)

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
            self._table(block.title, (), block.rows)
        elif isinstance(block, Grid):
            self._table(block.title, block.heads, block.rows, block.strong)
        elif isinstance(block, Drawing):
            self._picture(block)

    def _table(
        self, title: str, heads: tuple[str, ...], rows: tuple[tuple[str, ...], ...], strong: int = -1
    ) -> None:
        if title:
            self.paragraph(title, "Quiet")
        self._tables += 1
        made = table.Table(name=f"Table{self._tables}")
        made.addElement(table.TableColumn(numbercolumnsrepeated=len(heads) or 3))
        if heads:
            header = table.TableHeaderRows()
            header.addElement(self._row(heads, "Strong"))
            made.addElement(header)
        for at, row in enumerate(rows):
            made.addElement(self._row(row, "Strong" if at == strong else "Plain"))
        self.file.text.addElement(made)
        self.paragraph("")

    def _row(self, cells: tuple[str, ...], kind: str) -> table.TableRow:
        row = table.TableRow()
        for cell in cells:
            made = table.TableCell(stylename=self._named["Cell"], valuetype="string")
            made.addElement(text.P(stylename=self._named[kind], text=self._told(cell)))
            row.addElement(made)
        return row

    def _picture(self, drawing: Drawing) -> None:
        try:
            svg = clean_svg(drawing.svg)
        except UnsafePicture:
            self.paragraph("This picture could not be read.")
            return
        self._pictures += 1
        tall = _WIDE * drawing.height / max(drawing.width, 1)
        frame = draw.Frame(name=f"Picture{self._pictures}", width=f"{_WIDE}cm", height=f"{tall:.2f}cm",
                           anchortype="paragraph")  # fmt: skip
        place = self.file.addPictureFromString(svg.encode(), "image/svg+xml")
        frame.addElement(draw.Image(href=place, type="simple", show="embed", actuate="onLoad"))
        from odf.svg import Desc

        frame.addElement(Desc(text=self._told(drawing.words)))
        held = text.P(stylename=self._named["Plain"])
        held.addElement(frame)
        self.file.text.addElement(held)
        self.paragraph(drawing.title, "Quiet")

    def _styles(self, *, compact: bool) -> None:
        base = 9 if compact else 11
        self._named: dict[str, style.Style] = {}
        for name, size, weight, colour, ground in (
            ("H1", base + 9, "bold", LIGHT.ink, None), ("H2", base + 4, "bold", LIGHT.ink, None),
            ("H3", base + 1, "bold", LIGHT.ink, None), ("Plain", base, "normal", LIGHT.ink, None),
            ("Strong", base, "bold", LIGHT.ink, None), ("Quiet", base - 1, "normal", LIGHT.muted, None),
            ("Method", base, "normal", LIGHT.ink, LIGHT.paper), ("Note", base, "normal", LIGHT.ink, None),
            ("Beware", base, "normal", LIGHT.on_soft, LIGHT.tether_soft),
        ):  # fmt: skip
            made = style.Style(name=f"Account{name}", family="paragraph")
            made.addElement(style.TextProperties(fontsize=f"{size}pt", fontweight=weight, color=colour,
                                                 fontfamily="Inter"))  # fmt: skip
            room = "0.05cm" if name in ("Plain", "Strong") else "0.15cm"
            ground_of = {} if ground is None else {"backgroundcolor": ground, "padding": "0.15cm"}
            made.addElement(style.ParagraphProperties(margintop=room, marginbottom=room, **ground_of))
            self.file.automaticstyles.addElement(made)
            self._named[name] = made
        cell = style.Style(name="AccountCell", family="table-cell")
        cell.addElement(
            style.TableCellProperties(borderbottom=f"0.5pt solid {LIGHT.hairline}", padding="0.08cm")
        )
        self.file.automaticstyles.addElement(cell)
        self._named["Cell"] = cell
