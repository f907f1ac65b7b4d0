"""The write-up, and tables alone, as a document with named styles (Office Open XML, ISO/IEC 29500)."""

from __future__ import annotations

from collections.abc import Callable, Collection, Sequence
from datetime import datetime
from io import BytesIO
from pathlib import Path
from typing import Any

from docx import Document
from docx.enum.text import WD_ALIGN_PARAGRAPH
from docx.opc.constants import RELATIONSHIP_TYPE
from docx.opc.packuri import PackURI
from docx.opc.part import Part
from docx.oxml import OxmlElement, parse_xml
from docx.oxml.ns import qn
from docx.shared import Cm, Pt, RGBColor

from bright_tether.account.outward import Number, Outward
from bright_tether.account.outward_text import plain
from bright_tether.account.page import Entry, Page
from bright_tether.account.plain_text import names_in, told_plainly
from bright_tether.account.svg import UnsafePicture, clean_svg
from bright_tether.study.pins import Block, Drawing, Figures, Grid, Passage, Steps
from bright_tether.study.study import Study
from bright_tether.tables.writing import put_made, xml_text
from bright_tether.theme.tokens import LIGHT

#: Width of the page within its margins, and the most that a picture is tall, in centimetres.
_WIDE, _TALL = 16.6, 9.5
#: Letters from which on a column becomes no wider.
_LONGEST = 34
_W = 'xmlns:w="http://schemas.openxmlformats.org/wordprocessingml/2006/main"'
_LINE = f'w:val="single" w:sz="4" w:space="0" w:color="{LIGHT.hairline.lstrip("#")}"'
_HAIRLINES = f"<w:tblBorders {_W}><w:bottom {_LINE}/><w:insideH {_LINE}/></w:tblBorders>"
_GROUND = f'<w:shd {_W} w:val="clear" w:color="auto" w:fill="{{}}"/>'
#: The picture as vectors beside its pixels; the addresses are identifiers that the standard of the format fixes.
_VECTORS = (
    '<a:extLst xmlns:a="http://schemas.openxmlformats.org/drawingml/2006/main">'
    '<a:ext uri="{{96DAC541-7B7A-43D3-8B79-37D633B846F1}}">'
    '<v:svgBlip xmlns:v="http://schemas.microsoft.com/office/drawing/2016/SVG/main" '
    'xmlns:r="http://schemas.openxmlformats.org/officeDocument/2006/relationships" r:embed="{}"/></a:ext></a:extLst>'
)
#: A picture as pixels, for programs that show no vectors.
Pixels = Callable[[Drawing], bytes]


def write_docx(page: Page, study: Study, path: Path, pixels: Pixels) -> None:
    """Write the page with headings, tables and pictures. Raises OSError."""
    document = _Page(page, study, pixels)
    put_made(path, document.file.save)


def tables_document(tables: Sequence[Outward]) -> Any:
    """A document of tables alone, each under its title."""
    document = _own_document("Tables", base=10)
    for table in tables:
        document.add_paragraph(xml_text(plain(table.title)), style="Caption")
        rows = [[plain(cell) for cell in row] for row in table.rows]
        right = {at for row in table.rows for at, cell in enumerate(row) if isinstance(cell, Number)}
        _table(document, [plain(head) for head in table.heads], rows, table.strong, right)
        document.add_paragraph()
    return document


def _own_document(title: str, *, base: int) -> Any:
    """An empty document of which nothing is said but what is true."""
    document = Document()
    core = document.core_properties
    core.title, core.author, core.comments, core.language = xml_text(title), "", "", "en"
    core.last_modified_by, core.created, core.modified = "", *[datetime.now()] * 2
    for name, size, colour in (
        ("Normal", base, LIGHT.ink), ("Title", base + 9, LIGHT.ink), ("Heading 1", base + 4, LIGHT.ink),
        ("Heading 2", base + 1, LIGHT.ink), ("Caption", base - 1, LIGHT.muted), ("Quote", base, LIGHT.ink),
        ("Intense Quote", base, LIGHT.on_soft),
    ):  # fmt: skip
        style = document.styles[name]
        style.font.size, style.font.name = Pt(size), "Inter"
        style.font.color.rgb = RGBColor.from_string(colour.lstrip("#").upper())
        style.font.italic = False
        style.paragraph_format.space_after = Pt(4)
        fonts = style.element.get_or_add_rPr().find(qn("w:rFonts"))
        for theme in (
            "asciiTheme",
            "hAnsiTheme",
            "eastAsiaTheme",
            "cstheme",
        ):  # or a theme's font wins over ours
            fonts.attrib.pop(qn(f"w:{theme}"), None)
    for name, colour in (("Quote", LIGHT.paper), ("Intense Quote", LIGHT.tether_soft)):
        style = document.styles[name]
        style.font.bold = False
        style.paragraph_format.keep_together = True
        style.paragraph_format.left_indent = style.paragraph_format.right_indent = Cm(0)
        _without_rules(style)
        style.element.get_or_add_pPr().append(parse_xml(_GROUND.format(colour.lstrip("#"))))
    _without_rules(document.styles["Title"])
    page = document.sections[0]
    page.page_width, page.page_height = Cm(21), Cm(29.7)
    page.left_margin = page.right_margin = page.top_margin = page.bottom_margin = Cm(2.2)
    document.styles["Caption"].font.bold = False
    document.styles["Caption"].paragraph_format.keep_with_next = True
    return document


def _without_rules(style: Any) -> None:
    """Take the lines off that the library's pattern draws about a paragraph."""
    for rule in style.element.get_or_add_pPr().findall(qn("w:pBdr")):
        rule.getparent().remove(rule)


def _table(
    document: Any,
    heads: Sequence[str],
    rows: Sequence[Sequence[str]],
    strong: int,
    right: Collection[int] = (),
) -> None:
    """A table that breaks between rows alone, its head on every page, a hairline under every row."""
    every = [heads, *rows] if heads else list(rows)
    table = document.add_table(rows=0, cols=len(every[0]))
    table.autofit = False
    table._tbl.tblPr.append(parse_xml(_HAIRLINES))
    widths = _widths(every)
    for column, wide in zip(table.columns, widths, strict=True):
        column.width = Cm(wide)
    for at, row in enumerate(every):
        added = table.add_row()
        properties = added._tr.get_or_add_trPr()
        properties.append(OxmlElement("w:cantSplit"))
        if heads and not at:
            properties.append(OxmlElement("w:tblHeader"))
        bold = bool(heads) and at in (0, strong + 1)
        for across, (cell, text) in enumerate(zip(added.cells, row, strict=True)):
            cell.width = Cm(widths[across])
            paragraph = cell.paragraphs[0]
            paragraph.paragraph_format.space_after = Pt(1)
            run = paragraph.add_run(xml_text(text))
            run.bold = bold or (not heads and across == 0)
            if across in right:
                paragraph.alignment = WD_ALIGN_PARAGRAPH.RIGHT


def _widths(rows: Sequence[Sequence[str]]) -> list[float]:
    """Centimetres of each column, by what stands in it: the page's width together."""
    wanted = [min(max(len(row[at]) for row in rows), _LONGEST) + 3 for at in range(len(rows[0]))]
    return [_WIDE * one / sum(wanted) for one in wanted]


class _Page:
    def __init__(self, page: Page, study: Study, pixels: Pixels) -> None:
        self._told, self._pixels, self._pictures = told_plainly(names_in(study)), pixels, 0
        self.file = _own_document(self._told(page.title), base=9 if page.style == "compact" else 11)
        self._say(page.title, "Title")
        self._say(f"Written {page.written} with Bright Tether {page.version}.", "Caption")
        if page.proposed:
            self._say(
                "Nothing is pinned yet: this account is proposed from the lines of the study.", "Caption"
            )
        for chapter in page.chapters:
            if chapter.name:
                self._say(chapter.name, "Heading 1")
            if chapter.method:
                self._say(" ".join(("Method.", *chapter.method)), "Quote")
            for entry in chapter.entries:
                self._entry(entry)
        self._rows(page)
        if page.references:
            self._say("References", "Heading 1")
        for one in page.references:
            self._say(one.line)

    def _say(self, words: str, style: str = "Normal") -> None:
        self.file.add_paragraph(xml_text(self._told(words)), style=style)

    def _rows(self, page: Page) -> None:
        if page.rows:
            self._say("Rows and exclusions", "Heading 1")
        for one in page.rows:
            self._say(one.name, "Heading 2")
            for sentence in one.sentences:
                self._say(sentence)
            for grid in one.grids:
                self._block(grid)
            if one.trail:
                self._say("Changed after results were seen.")
                for line in one.trail:
                    self._say(line, "List Bullet")
            else:
                self._say("Nothing was changed after results were seen.")

    def _entry(self, entry: Entry) -> None:
        if entry.pin.part == "heading":
            self._say(entry.pin.text, "Heading 1")
            return
        for block in entry.blocks:
            self._block(block)
        if entry.pin.text:
            self._say(entry.pin.text)
        if entry.frozen:
            changes = (
                f"Since then: {'; '.join(entry.since)}."
                if entry.since
                else "Nothing in it has changed since."
            )
            self._say(f"Frozen {entry.frozen}. {changes}", "Caption")

    def _block(self, block: Block) -> None:
        if isinstance(block, Passage):
            self._say(block.title, "Heading 2")
            for sentence in block.sentences:
                self._say(sentence)
            for at, sentence in enumerate(block.beware):
                self._say(("Beware. " if not at else "") + sentence, "Intense Quote")
        elif isinstance(block, Drawing):
            self._picture(block)
        else:
            self._grid(block)

    def _grid(self, block: Grid | Figures | Steps) -> None:
        if block.title:
            self._say(block.title, "Caption")
        heads, strong = (block.heads, block.strong) if isinstance(block, Grid) else ((), -1)
        rows = [[self._told(cell) for cell in row] for row in block.rows]
        if rows or heads:
            _table(self.file, [self._told(head) for head in heads], rows, strong)
        self.file.add_paragraph()

    def _picture(self, drawing: Drawing) -> None:
        try:
            vectors = clean_svg(drawing.svg)
        except UnsafePicture:
            self._say("This picture could not be read.")
            return
        pixels = self._pixels(drawing)
        if not pixels:
            self._say(drawing.words)
            return
        wide = min(_WIDE, _TALL * drawing.width / max(drawing.height, 1))
        shape = self.file.add_picture(BytesIO(pixels), width=Cm(wide))
        self._pictures += 1
        name = PackURI(f"/word/media/picture{self._pictures}.svg")
        part = Part(name, "image/svg+xml", vectors.encode(), self.file.part.package)
        blip = shape._inline.find(f".//{qn('a:blip')}")
        blip.append(parse_xml(_VECTORS.format(self.file.part.relate_to(part, RELATIONSHIP_TYPE.IMAGE))))
        shape._inline.docPr.set("descr", xml_text(self._told(drawing.words)))
        shape._inline.docPr.set("title", xml_text(self._told(drawing.title)))
        self.file.paragraphs[-1].paragraph_format.keep_with_next = True
        self._say(drawing.title, "Caption")
