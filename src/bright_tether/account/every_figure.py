"""Every figure of an account as data: its number in full, where it stands, what it is, and what it rests on."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

import msgspec

from bright_tether.account.outward import Number, outward
from bright_tether.account.page import Entry, Page
from bright_tether.account.readings import facts_of
from bright_tether.study.pins import Block, Figures, Grid, Passage
from bright_tether.study.study import Study
from bright_tether.words.meanings import meaning_of
from bright_tether.words.references import csl
from bright_tether.words.said import Said

#: Heads of columns that are named by what stands at the left of their row.
_PLAIN = {"value", "low", "high", "beside", "what was found"}
_PARTS = {"low": ", lower end of its interval", "high": ", upper end of its interval"}


class WrittenFigure(msgspec.Struct, frozen=True, kw_only=True):
    """One number of a table of the account.

    table : the caption it stands below, with its number. row, column : where in it. value : in full, in per cent
    where per_cent says so; shown : as it reads there. definition : in one line, "" for what has a name of the
    analyst's own; references : their ids.
    """

    chapter: str
    step: str
    table: str
    row: str
    column: str
    value: float
    per_cent: bool
    shown: str
    definition: str
    references: tuple[str, ...] = ()


class WrittenClaim(msgspec.Struct, frozen=True, kw_only=True):
    """What a sentence claims, with the numbers it rests on by their names."""

    kind: str
    facts: dict[str, Any]


class WrittenSentence(msgspec.Struct, frozen=True, kw_only=True):
    """One sentence of the account. claims : none where it was frozen, since then it is words alone."""

    chapter: str
    step: str
    says: str
    claims: tuple[WrittenClaim, ...]


class DataFile(msgspec.Struct, frozen=True, kw_only=True):
    """A file that a table was read from, without its folder. size : in bytes; modified : its day."""

    table: str
    file: str
    size: int
    modified: str
    sha256: str


class Account(msgspec.Struct, frozen=True, kw_only=True):
    """All of it. version : of what wrote it; references : as CSL."""

    title: str
    written: str
    version: str
    data: tuple[DataFile, ...]
    figures: tuple[WrittenFigure, ...]
    sentences: tuple[WrittenSentence, ...]
    references: tuple[dict[str, Any], ...]


def account_of(page: Page, study: Study) -> Account:
    """The account as data, in the order of its page."""
    figures: list[WrittenFigure] = []
    sentences: list[WrittenSentence] = []
    for chapter in page.chapters:
        for entry in chapter.entries:
            for block in entry.blocks:
                figures += _figures(chapter.name, entry.pin.step, block)
                sentences += _sentences(chapter.name, entry, block)
    for rows in page.rows:
        for grid in rows.grids:
            figures += _figures(rows.name, "gather", grid)
    return Account(
        title=page.title, written=page.written, version=page.version, data=_files(study), figures=tuple(figures),
        sentences=tuple(sentences), references=tuple(csl(page.references)),
    )  # fmt: skip


def account_json(page: Page, study: Study) -> bytes:
    """The same as JSON; what it is made of is in the schema of the documentation."""
    return msgspec.json.format(msgspec.json.encode(account_of(page, study)), indent=1)


def schema() -> dict[str, Any]:
    """JSON Schema of it."""
    return msgspec.json.schema(Account)


def _figures(chapter: str, step: str, block: Block) -> Iterator[WrittenFigure]:
    if not isinstance(block, Grid | Figures):
        return
    full, short = outward(block, "all"), outward(block, "shown")
    for whole, told, texts in zip(full.rows, short.rows, block.rows, strict=True):
        named = whole[0].text if isinstance(whole[0], Number) else whole[0]
        for head, cell, shown in zip(full.heads[1:], whole[1:], told[1:], strict=True):
            if isinstance(cell, Number) and isinstance(shown, Number):
                definition, references = meaning_of(named if head in _PLAIN else head, step)
                definition += _PARTS.get(head, "") if definition else ""
                read = texts[1] if head in _PLAIN else head
                yield WrittenFigure(
                    chapter=chapter, step=step, table=block.title, row=named, column=head, value=cell.value,
                    per_cent="%" in read, shown=shown.text, definition=definition,
                    references=references,
                )  # fmt: skip


def _sentences(chapter: str, entry: Entry, block: Block) -> Iterator[WrittenSentence]:
    if not isinstance(block, Passage):
        return
    for said in (block.title, *block.sentences, *block.beware):
        claims = said.claims if isinstance(said, Said) else ()
        yield WrittenSentence(
            chapter=chapter, step=entry.pin.step, says=str(said),
            claims=tuple(WrittenClaim(kind=one.kind, facts=facts_of(one)) for one in claims),
        )  # fmt: skip


def _files(study: Study) -> tuple[DataFile, ...]:
    return tuple(
        DataFile(table=table.name, file=source.path.rpartition("/")[2], size=source.size, modified=source.modified,
                 sha256=source.digest)
        for table in study.tables if (source := table.source) is not None and source.digest
    )  # fmt: skip
