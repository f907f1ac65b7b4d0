"""Every figure of an account as data: its number in full, where it stands, what it is, and what it rests on."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

import msgspec

from bright_tether.account.freezing import sentences_of
from bright_tether.account.outward import Number, digits_of, named, outward
from bright_tether.account.page import Entry, Page
from bright_tether.account.readings import facts_of
from bright_tether.study.pins import Block, Figures, Grid, Passage, Steps
from bright_tether.study.study import Study
from bright_tether.words.meanings import meaning_of
from bright_tether.words.references import csl
from bright_tether.words.said import Said
from bright_tether.words.shown import Shown

#: Heads of columns that are named by what stands at the left of their row.
_PLAIN = {"value", "low", "high", "beside", "result", "what was found"}
_PARTS = {"low": ", lower end of its interval", "high": ", upper end of its interval"}


class WrittenFigure(msgspec.Struct, frozen=True, kw_only=True):
    """One number of a table, of figures or of a working of the account.

    table : the caption it stands below, with its number. row, column : where in it. value : in full, in per cent
    where per_cent says so; shown : as it reads there. definition : in one line, of a working how it is worked out,
    "" for what has a name of the analyst's own; references : their ids.
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
    """One sentence of the account. claims : what it says, as it was where it is frozen."""

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
            for at, block in enumerate(entry.blocks):
                figures += _figures(chapter.name, entry.pin.step, block)
                sentences += _sentences(chapter.name, entry, at)
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
    if isinstance(block, Grid):
        for row, column, cell, shown, read in _cells(block):
            definition, references = meaning_of(row if column in _PLAIN else column, step)
            definition += _PARTS.get(column, "") if definition else ""
            yield WrittenFigure(
                chapter=chapter, step=step, table=block.title, row=row, column=column, value=cell.value,
                per_cent="%" in read, shown=shown, definition=definition, references=references,
            )  # fmt: skip
    elif isinstance(block, Figures | Steps):
        for row, second, third in block.rows:
            texts = (
                (("value", second), ("beside", third)) if isinstance(block, Figures) else (("result", third),)
            )
            for place, text in texts:
                for column, value, shown in _numbers(row, place, text):
                    definition, references = meaning_of(row if column in _PLAIN else column, step)
                    if isinstance(block, Steps):
                        definition, references = second, ()
                    definition += _PARTS.get(column, "") if definition else ""
                    yield WrittenFigure(
                        chapter=chapter, step=step, table=block.title, row=row, column=column, value=value,
                        per_cent="%" in text, shown=shown, definition=definition, references=references,
                    )  # fmt: skip


def _cells(grid: Grid) -> Iterator[tuple[str, str, Number, str, str]]:
    """Of each number of a table: its row and column, itself, what is shown of it, and where its unit reads."""
    full, short = outward(grid, "all"), outward(grid, "shown")
    for whole, told, texts in zip(full.rows, short.rows, grid.rows, strict=True):
        row = whole[0].text if isinstance(whole[0], Number) else whole[0]
        for head, cell, shown in zip(full.heads[1:], whole[1:], told[1:], strict=True):
            if isinstance(cell, Number) and isinstance(shown, Number):
                yield row, head, cell, shown.text, texts[1] if head in _PLAIN else head


def _numbers(row: str, place: str, text: str) -> Iterator[tuple[str, float, str]]:
    """Of each number of a text: what it is called, itself, and what is shown of it."""
    if not isinstance(text, Shown):
        return
    if text.names:
        called = [named(row, one) for one in text.names]
    elif len(text.numbers) == 2:
        called = ["low", "high"]
    else:
        sign = text[:1] if text[:1] in ("p", "±") else ""
        called = [sign if sign and place == "beside" else place] * len(text.numbers)
    for name, value, shown in zip(called, text.numbers, digits_of(text), strict=True):
        yield name, float(value), shown


def _sentences(chapter: str, entry: Entry, at: int) -> Iterator[WrittenSentence]:
    block, frozen = entry.blocks[at], entry.pin.frozen
    if not isinstance(block, Passage):
        return
    for place, said in enumerate(sentences_of(block)):
        if frozen is not None:
            claims = [WrittenClaim(kind=one.kind, facts=one.facts) for one in frozen.claims
                      if (one.block, one.at) == (at, place)]  # fmt: skip
        else:
            own = said.claims if isinstance(said, Said) else ()
            claims = [WrittenClaim(kind=one.kind, facts=facts_of(one)) for one in own]
        yield WrittenSentence(chapter=chapter, step=entry.pin.step, says=str(said), claims=tuple(claims))


def _files(study: Study) -> tuple[DataFile, ...]:
    return tuple(
        DataFile(table=table.name, file=source.path.rpartition("/")[2], size=source.size, modified=source.modified,
                 sha256=source.digest)
        for table in study.tables if (source := table.source) is not None and source.digest
    )  # fmt: skip
