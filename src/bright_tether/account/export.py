"""A write-up to a file, in the kind that its name asks for."""

from __future__ import annotations

from pathlib import Path

from bright_tether.account.evidence import pictures_of, write_evidence
from bright_tether.account.page import Page
from bright_tether.account.pieces import AllFindings
from bright_tether.account.press import Press
from bright_tether.study.study import Study
from bright_tether.tables.writing import put_whole

KINDS = (".html", ".pdf", ".docx", ".odt", ".md")


class UnknownKind(ValueError):
    """A file name that asks for no kind of write-up."""

    def __init__(self, suffix: str) -> None:
        super().__init__(
            f"A write-up can be written as {', '.join(KINDS)}: give the file one of these endings."
        )
        self.suffix = suffix


def export(
    page: Page, study: Study, path: Path, press: Press, *, evidence: bool = False,
    everything: AllFindings | None = None,
) -> tuple[Path, ...]:  # fmt: skip
    """Write the page of a study; the file is there whole, or not at all.

    evidence : also a folder beside it with pairs, tables, results, pictures and a script that checks them.
    Raises UnknownKind, OSError.
    """
    kind = path.suffix.lower()
    if kind not in KINDS:
        raise UnknownKind(kind)
    written = [path]
    if kind == ".pdf":
        from bright_tether.account.paged import pdf_of

        put_whole(path, pdf_of(page, study))
    elif kind == ".odt":
        from bright_tether.account.odt import write_odt

        write_odt(page, study, path)
    elif kind == ".docx":
        from bright_tether.account.docx_out import write_docx

        write_docx(page, study, path, press.pixels)
    elif kind == ".html":
        from bright_tether.account.html import html_file

        put_whole(path, html_file(page, study).encode())
    else:
        from bright_tether.account.markdown import markdown_file

        folder = path.with_name(f"{path.stem}-pictures")
        pictures = pictures_of(page)
        if pictures:
            folder.mkdir(exist_ok=True)
        for name, svg in pictures:
            put_whole(folder / name, svg.encode())
            written.append(folder / name)
        put_whole(path, markdown_file(page, study, folder.name).encode())
    if evidence:
        written += write_evidence(page, study, path.with_name(f"{path.stem}-evidence"), everything)
    return tuple(written)
