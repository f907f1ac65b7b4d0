"""The study file: a zip that is a data package (datapackage.json, data/*.csv) with study.json beside it.

Any zip tool opens it, and the CSV files are plain UTF-8. Source of the layout: Frictionless Data Package v1.
"""

from __future__ import annotations

import io
import json
import os
import re
import zipfile
from contextlib import suppress
from pathlib import Path
from typing import IO, Any

import msgspec
import numpy as np

from bright_tether.study.codec import encoded
from bright_tether.study.older import renewed
from bright_tether.study.pins import PageStyle, Pin
from bright_tether.study.rules import RuleChoices
from bright_tether.study.study import Study
from bright_tether.study.tether import Tether
from bright_tether.study.trail import LaterChange
from bright_tether.tables.cells import as_number
from bright_tether.tables.clock import DateOrder
from bright_tether.tables.column import Column, Kind
from bright_tether.tables.csv_out import write_csv
from bright_tether.tables.delimited import Trouble, UnreadableFile, file_bytes
from bright_tether.tables.formula import Formula
from bright_tether.tables.read_plan import ReadPlan, read_content
from bright_tether.tables.table import Mend, Recipe, Source, Table
from bright_tether.tables.writing import beside, from_folder, printable, whole_file

VERSION = 2
_MOST_BYTES = 4_000_000_000
_MOST_SWELL = 400  # unpacked bytes for one packed, beyond which a zip is a trap
_TYPES = {"number": "number", "date": "any", "category": "string", "text": "string", "label": "string"}


class SavedColumn(msgspec.Struct, frozen=True, kw_only=True, omit_defaults=True):
    """What the CSV does not say of a column."""

    id: str
    name: str
    kind: Kind
    strays: dict[int, str] = {}
    formula: Formula | None = None
    low: float | None = None
    high: float | None = None
    dates: DateOrder | None = None


class SavedTable(msgspec.Struct, frozen=True, kw_only=True, omit_defaults=True):
    """What the CSV does not say of a table. row_ids : None where they are 0, 1, 2, …"""

    id: str
    name: str
    path: str
    columns: tuple[SavedColumn, ...]
    row_ids: tuple[int, ...] | None = None
    source: Source | None = None
    dismissed: tuple[str, ...] = ()
    next_row: int = 0
    mends: tuple[Mend, ...] = ()
    recipe: Recipe | None = None


class SavedStudy(msgspec.Struct, frozen=True, kw_only=True):
    """study.json. version : of this layout; a newer one is refused. layout : kept as it is."""

    version: int
    title: str
    tables: tuple[SavedTable, ...]
    tethers: tuple[Tether, ...]
    rules: RuleChoices = RuleChoices()
    trail: tuple[LaterChange, ...] = ()
    layout: dict[str, Any] = {}
    pins: tuple[Pin, ...] = ()
    style: PageStyle = "plain"


def study_schema() -> dict[str, Any]:
    """The JSON Schema of study.json, as published in docs."""
    schema = msgspec.json.schema(SavedStudy)
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "title": f"study.json, version {VERSION}",
    } | schema


def save_study(
    study: Study, path: Path, *, private: bool = False, backup: bool = True, near: bool = True
) -> None:
    """Write a study so that at every instant the old file or the new one is there, whole.

    backup : the file it replaces stays as one backup (name~). near : sources near it are kept as seen from there.
    Raises OSError.
    """
    with whole_file(path, private=private, before=_back_up if backup else lambda target: None) as file:
        write_package(study, file, path.absolute().parent if near else None)


def _back_up(target: Path) -> None:
    """Keep the file at a place as name~; a folder that knows no hard links goes without."""
    kept = target.with_name(f"{target.name[:200]}~")
    with suppress(OSError):
        beside = kept.with_name(f".{os.getpid()}{kept.name[-100:]}")
        beside.unlink(missing_ok=True)
        os.link(target, beside)
        os.replace(beside, kept)


def write_package(study: Study, file: IO[bytes], folder: Path | None = None) -> None:
    """Write the zip of a study. folder : where it will stand; sources near it are kept as seen from there."""
    saved = tuple(_saved_table(table, folder) for table in study.tables)
    with zipfile.ZipFile(file, "w", zipfile.ZIP_DEFLATED, compresslevel=1) as package:
        described = json.dumps(_descriptor(study, saved), ensure_ascii=False, indent=1)
        package.writestr(_info("datapackage.json"), printable(described))
        for table, entry in zip(study.tables, saved, strict=True):
            with package.open(_info(entry.path), "w", force_zip64=True) as member:
                write_csv(table, member)
        whole = SavedStudy(
            version=VERSION,
            title=study.title,
            tables=saved,
            tethers=study.tethers,
            rules=study.rules,
            trail=study.trail,
            pins=study.pins,
            style=study.style,
        )
        package.writestr(_info("study.json"), msgspec.json.format(encoded(whole), indent=1))


def _info(name: str) -> zipfile.ZipInfo:
    """A member without a time of its own: the same study gives the same bytes."""
    info = zipfile.ZipInfo(name)
    info.compress_type = zipfile.ZIP_DEFLATED
    info.external_attr = 0o644 << 16
    return info


def is_package(path: Path) -> bool:
    """Whether a file is a zip that holds a study or a data package."""
    try:
        with zipfile.ZipFile(path) as package:
            return not {"study.json", "datapackage.json"}.isdisjoint(package.namelist())
    except (OSError, zipfile.BadZipFile):
        return False


def open_study(path: Path) -> Study:
    """The study in a file, or in another program's data package. Raises UnreadableFile."""
    return read_package(file_bytes(path), path.name, path.absolute().parent)


def read_package(content: bytes, name: str, folder: Path | None = None) -> Study:
    """The study in the bytes of a zip. Raises UnreadableFile; nothing outside the zip is touched.

    folder : where it stands, from where near sources are seen.
    """
    try:
        with zipfile.ZipFile(io.BytesIO(content)) as package:
            _refuse_traps(package, len(content), name)
            members = {info.filename for info in package.infolist()}
            if "study.json" in members:
                return _own_study(package, name, folder)
            if "datapackage.json" in members:
                return _foreign_study(package, name)
    except UnreadableFile:
        raise
    except Exception:  # a hostile file finds every error there is: no list of them is whole
        raise UnreadableFile(Trouble.DAMAGED, name) from None
    raise UnreadableFile(Trouble.NOT_A_STUDY, name)


def _refuse_traps(package: zipfile.ZipFile, packed: int, name: str) -> None:
    total = 0
    for info in package.infolist():
        parts = info.filename.replace("\\", "/").split("/")
        if info.filename.startswith(("/", "\\")) or ".." in parts or ":" in parts[0]:
            raise UnreadableFile(Trouble.DAMAGED, name)
        total += info.file_size
    if total > _MOST_BYTES or total > 10_000_000 + _MOST_SWELL * packed:
        raise UnreadableFile(Trouble.TOO_LARGE, name)


def _member(package: zipfile.ZipFile, path: str, name: str) -> bytes:
    """A member's bytes, never more than the zip said there were."""
    info = package.getinfo(path)
    with package.open(info) as member:
        content = member.read(info.file_size + 1)
    if len(content) > info.file_size:
        raise UnreadableFile(Trouble.TOO_LARGE, name)
    return content


def _own_study(package: zipfile.ZipFile, name: str, folder: Path | None) -> Study:
    content = _member(package, "study.json", name)
    plain = msgspec.json.decode(content, type=dict[str, Any])
    version = plain.get("version")
    if not isinstance(version, int) or version < 1:
        raise UnreadableFile(Trouble.DAMAGED, name)
    if version > VERSION:
        raise UnreadableFile(Trouble.TOO_NEW, name, found=version)
    if version == 1:
        saved = msgspec.convert(renewed(plain), SavedStudy, str_keys=True)
    else:
        saved = msgspec.json.decode(content, type=SavedStudy)
    tables = tuple(
        _table_of(_located(one, folder), _member(package, one.path, name), name) for one in saved.tables
    )
    study = Study(
        title=saved.title, tables=tables, tethers=saved.tethers, rules=saved.rules, trail=saved.trail,
        pins=saved.pins, style=saved.style,
    )  # fmt: skip
    if not _holds_together(study):
        raise UnreadableFile(Trouble.DAMAGED, name)
    return study


def _holds_together(study: Study) -> bool:
    """Whether no id stands twice and what refers to a table or a tether finds it."""
    tables, tethers = [table.id for table in study.tables], [tether.id for tether in study.tethers]
    lists = [tables, tethers, [pin.id for pin in study.pins]]
    lists += [[column.id for column in table.columns] for table in study.tables]
    return (
        bool(tethers)
        and all(len(set(one)) == len(one) for one in lists)
        and all(table.columns for table in study.tables)
        and all(tether.table in tables for tether in study.tethers)
        and all(pin.tether is None or pin.tether in tethers for pin in study.pins)
    )


def _located(saved: SavedTable, folder: Path | None) -> SavedTable:
    if saved.source is None or folder is None:
        return saved
    path = from_folder(saved.source.path, folder)
    return msgspec.structs.replace(saved, source=msgspec.structs.replace(saved.source, path=path))


def _table_of(saved: SavedTable, content: bytes, name: str) -> Table:
    import pyarrow as pa
    from pyarrow import csv

    # Numbers are read as texts too, so that a text which only looks like a number stays what it is.
    plain = [c.kind == "number" and not c.strays for c in saved.columns]
    types = {str(i): pa.float64() if one else pa.string() for i, one in enumerate(plain)}
    try:
        read = csv.read_csv(
            pa.BufferReader(content),
            csv.ReadOptions(skip_rows=1, column_names=list(types)) if b"\n" not in _head(content) else
            csv.ReadOptions(column_names=list(types), skip_rows_after_names=1),
            csv.ParseOptions(newlines_in_values=True, ignore_empty_lines=False),
            csv.ConvertOptions(column_types=types, null_values=[""], strings_can_be_null=False),
        )  # fmt: skip
    except pa.ArrowInvalid:
        raise UnreadableFile(Trouble.DAMAGED, name) from None
    rows = read.num_rows
    ids = np.arange(rows, dtype=np.int64) if saved.row_ids is None else np.array(saved.row_ids, np.int64)
    if ids.size != rows or len(set(ids.tolist())) != rows or (ids.size and ids.min() < 0):
        raise UnreadableFile(Trouble.DAMAGED, name)
    columns = []
    for at, one in enumerate(saved.columns):
        cells, strays = read.column(at), one.strays
        if plain[at]:
            values = cells.to_numpy().astype(float, copy=True)
            values[~np.isfinite(values)] = np.nan
        elif one.kind == "number":
            values, strays = _numbers_beside_strays(cells.to_pylist(), ids, strays)
        else:
            values = np.array(cells.to_pylist(), dtype=object)
        columns.append(
            Column(
                id=one.id,
                name=one.name,
                kind=one.kind,
                cells=values,
                strays=strays,
                formula=one.formula,
                low=one.low,
                high=one.high,
                dates=one.dates,
            )
        )
    return Table(
        id=saved.id,
        name=saved.name,
        columns=tuple(columns),
        row_ids=ids,
        source=saved.source,
        dismissed=saved.dismissed,
        next_row=saved.next_row,
        mends=saved.mends,
        recipe=saved.recipe,
    )


def _head(content: bytes) -> bytes:
    """The first record; a line break may stand inside its quotes."""
    inside = False
    for at, byte in enumerate(content):
        if byte == 0x22:
            inside = not inside
        elif byte == 0x0A and not inside:
            return content[:at]
    return content


def _numbers_beside_strays(
    texts: list[str], row_ids: np.ndarray, strays: dict[int, str]
) -> tuple[np.ndarray, dict[int, str]]:
    """Cells of a number column in which texts stand; a text of a row that is no stray was put in by hand."""
    values, kept = np.full(len(texts), np.nan), {}
    for at, (row, text) in enumerate(zip(row_ids.tolist(), texts, strict=True)):
        if row in strays:
            kept[row] = strays[row]
        elif text:
            number = as_number(text)
            if number is None:
                kept[row] = text
            else:
                values[at] = number
    return values, kept


def _foreign_study(package: zipfile.ZipFile, name: str) -> Study:
    from bright_tether.study.table_changes import first_tether

    descriptor = msgspec.json.decode(_member(package, "datapackage.json", name))
    tables: list[Table] = []
    for resource in descriptor["resources"]:
        path, dialect = resource.get("path"), resource.get("dialect") or {}
        path = path[0] if isinstance(path, list) and len(path) == 1 else path
        if not isinstance(path, str) or path not in package.namelist():
            continue
        plan = ReadPlan(
            encoding=str(resource.get("encoding") or "utf-8"),
            separator=str(dialect.get("delimiter") or ("\t" if path.endswith(".tsv") else ",")),
            header=bool(dialect.get("header", True)),
            missing=tuple((resource.get("schema") or {}).get("missingValues") or ()),
        )
        table = read_content(_member(package, path, name), path, f"t{len(tables) + 1}", plan)
        title = str(resource.get("title") or resource.get("name") or table.name)
        tables.append(msgspec.structs.replace(table, name=title))
    if not tables:
        raise UnreadableFile(Trouble.NOT_A_STUDY, name)
    tethers = tuple(first_tether(table, f"k{i + 1}") for i, table in enumerate(tables))
    title = str(descriptor.get("title") or descriptor.get("name") or Path(name).stem)
    return Study(title=title, tables=tuple(tables), tethers=tethers)


def _saved_table(table: Table, folder: Path | None) -> SavedTable:
    plain = np.array_equal(table.row_ids, np.arange(table.rows))
    columns = tuple(
        SavedColumn(
            id=c.id,
            name=c.name,
            kind=c.kind,
            strays=_present(c.strays, table),
            formula=c.formula,
            low=c.low,
            high=c.high,
            dates=c.dates,
        )
        for c in table.columns
    )
    source = table.source
    if source is not None and folder is not None:
        source = msgspec.structs.replace(source, path=beside(source.path, folder))
    return SavedTable(
        id=table.id, name=table.name, path=f"data/{table.id}.csv", columns=columns,
        row_ids=None if plain else tuple(table.row_ids.tolist()), source=source,
        dismissed=table.dismissed, next_row=table.next_row, mends=table.mends,
        recipe=table.recipe,
    )  # fmt: skip


def _present(strays: dict[int, str], table: Table) -> dict[int, str]:
    """Strays of rows that are still there, in one order whatever way they came."""
    if not strays:
        return {}
    here = set(table.row_ids[table.places(strays)].tolist())
    return {row: strays[row] for row in sorted(strays) if row in here}


def _descriptor(study: Study, saved: tuple[SavedTable, ...]) -> dict[str, Any]:
    resources = []
    for table, entry in zip(study.tables, saved, strict=True):
        fields = [
            {
                "name": column.name,
                "title": column.short,
                "type": "string" if column.strays else _TYPES[column.kind],
            }
            for column in table.columns
        ]
        resources.append(
            {
                "name": re.sub(r"[^a-z0-9._-]", "-", entry.id.lower()),
                "title": table.name,
                "path": entry.path,
                "profile": "tabular-data-resource",
                "format": "csv",
                "mediatype": "text/csv",
                "encoding": "utf-8",
                "schema": {"fields": fields, "missingValues": [""]},
            }
        )
    return {"profile": "tabular-data-package", "name": "study", "title": study.title, "resources": resources}
