"""The study file: a zip that is a data package (datapackage.json, data/*.csv) with study.json beside it.

Any zip tool opens it, and the CSV files are plain UTF-8. Source of the layout: Frictionless Data Package v1.
"""

from __future__ import annotations

import io
import json
import os
import re
import zipfile
from collections.abc import Iterable
from contextlib import suppress
from pathlib import Path
from typing import IO, Any

import msgspec

from bright_tether.study.asides import Aside, Asides
from bright_tether.study.codec import encoded, held
from bright_tether.study.figures import FigureChoices
from bright_tether.study.older import renewed
from bright_tether.study.pins import PageStyle, Pin
from bright_tether.study.rules import RuleChoices
from bright_tether.study.saved_table import SavedTable, located, saved_table, table_of
from bright_tether.study.study import Study
from bright_tether.study.tether import Tether
from bright_tether.study.trail import LaterChange
from bright_tether.tables.csv_out import write_csv
from bright_tether.tables.delimited import Trouble, UnreadableFile, file_bytes
from bright_tether.tables.read_plan import ReadPlan, read_content
from bright_tether.tables.table import Table
from bright_tether.tables.writing import printable, whole_file

VERSION = 2
_MOST_BYTES = 4_000_000_000
_MOST_SWELL = 400  # unpacked bytes for one packed, beyond which a zip is a trap
_TYPES = {"number": "number", "date": "any", "category": "string", "text": "string", "label": "string"}


#: What a study is called where it is handed over with all that belongs to it.
HANDED = "study.tether"


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
    figures: FigureChoices = FigureChoices()


def _schema_of(kind: type) -> dict[str, Any]:
    if kind is not Asides:
        raise NotImplementedError(kind)
    return {"type": "array", "items": msgspec.json.schema(Aside)["$defs"]["Aside"], "default": []}


def study_schema() -> dict[str, Any]:
    """The JSON Schema of study.json, as published in docs."""
    schema = msgspec.json.schema(SavedStudy, schema_hook=_schema_of)
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
    saved = tuple(saved_table(table, folder) for table in study.tables)
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
            figures=study.figures,
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
            names = package.namelist()
            return not {"study.json", "datapackage.json"}.isdisjoint(names) or _handed(names) is not None
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
            inner = _handed(members)
            if inner is not None:
                return _study_within(package, inner, folder)
    except UnreadableFile:
        raise
    except Exception:  # a hostile file finds every error there is: no list of them is whole
        raise UnreadableFile(Trouble.DAMAGED, name) from None
    raise UnreadableFile(Trouble.NOT_A_STUDY, name)


def _handed(names: Iterable[str]) -> str | None:
    """The study within a zip that was handed over, None where there is none."""
    found = [one for one in names if one.rpartition("/")[2] == HANDED and one.count("/") <= 1]
    return found[0] if len(found) == 1 else None


def _study_within(package: zipfile.ZipFile, member: str, folder: Path | None) -> Study:
    content = _member(package, member, member)
    with zipfile.ZipFile(io.BytesIO(content)) as inner:
        _refuse_traps(inner, len(content), member)
        return _own_study(inner, member, None if folder is None else folder / Path(member).parent)


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
        saved = msgspec.convert(renewed(plain), SavedStudy, str_keys=True, dec_hook=held)
    else:
        saved = msgspec.json.decode(content, type=SavedStudy, dec_hook=held)
    tables = tuple(
        table_of(located(one, folder), _member(package, one.path, name), name) for one in saved.tables
    )
    study = Study(
        title=saved.title, tables=tables, tethers=saved.tethers, rules=saved.rules, trail=saved.trail,
        pins=saved.pins, style=saved.style, figures=saved.figures,
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
