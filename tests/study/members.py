"""What a study's file holds, so that two studies can be held against each other."""

import io
import zipfile

import msgspec

from bright_tether.study.package import write_package


def packed(study):
    file = io.BytesIO()
    write_package(study, file)
    return file.getvalue()


def members(study):
    """Every member of a study's file, less the counter of row ids, which never falls."""
    tables = tuple(msgspec.structs.replace(table, next_row=0) for table in study.tables)
    with zipfile.ZipFile(io.BytesIO(packed(msgspec.structs.replace(study, tables=tables)))) as package:
        return {name: package.read(name) for name in package.namelist()}
