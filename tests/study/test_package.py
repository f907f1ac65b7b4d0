"""The study file: bit for bit there and back, and nothing hostile gets in."""

import io
import json
import random
import re
import zipfile
from pathlib import Path

import jsonschema
import msgspec
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from tests.study.members import packed

from bright_tether.account.pieces import blocks_of
from bright_tether.account.press import NO_PRESS
from bright_tether.demo.study import demo_study
from bright_tether.live.findings import Findings
from bright_tether.steps.catalogue import STEPS
from bright_tether.study import cell_changes, changes
from bright_tether.study.codec import decode_edit
from bright_tether.study.package import (
    open_study,
    read_package,
    save_study,
    study_schema,
    write_package,
)
from bright_tether.study.study import Study
from bright_tether.study.tether import Tether
from bright_tether.tables.column import Column
from bright_tether.tables.csv_out import write_csv
from bright_tether.tables.delimited import Trouble, UnreadableFile
from bright_tether.tables.formula import Draw, Expression
from bright_tether.tables.table import Source, Table


def study_of(*columns, row_ids=None):
    rows = columns[0].cells.size
    ids = np.arange(rows) if row_ids is None else np.array(row_ids)
    table = Table(id="t1", name="T", columns=columns, row_ids=ids)
    return Study(title="A", tables=(table,), tethers=(Tether(id="k1", table="t1", x=columns[0].id),))


def there_and_back(study):
    file = io.BytesIO()
    write_package(study, file)
    return read_package(file.getvalue(), "s.tether")


def same(a, b):
    assert (a.title, a.tethers, a.rules) == (b.title, b.tethers, b.rules)
    for one, two in zip(a.tables, b.tables, strict=True):
        assert (one.id, one.name, one.source) == (two.id, two.name, two.source)
        assert one.row_ids.tolist() == two.row_ids.tolist()
        for c, d in zip(one.columns, two.columns, strict=True):
            assert (c.id, c.name, c.kind, c.strays, c.formula, c.low) == (
                d.id,
                d.name,
                d.kind,
                d.strays,
                d.formula,
                d.low,
            )
            if c.numeric:
                assert c.cells.tobytes() == d.cells.tobytes()
            else:
                assert c.cells.tolist() == d.cells.tolist()


def test_the_demo_comes_back_bit_for_bit(tmp_path):
    study = demo_study()
    save_study(study, tmp_path / "demo.tether")
    same(study, open_study(tmp_path / "demo.tether"))


doubles = st.floats(allow_nan=False, allow_infinity=False)
names = st.text(st.characters(exclude_categories=["Cs", "Cc"]), min_size=1, max_size=12)
texts = st.text(st.characters(exclude_categories=["Cs"]), max_size=12)
odd_texts = st.one_of(
    st.text(st.characters(), max_size=12),
    st.sampled_from(["1_000", "inf", "-Infinity", "nan", "1e999", "0x10", "٣", "1,5", "1 000", "5%", "\ud800",
                     "''", '"', "\r", "a\nb", "=1", "TRUE", "null", "1e5", "12.50", "\x00", "\x1a", " 7 "]),
)  # fmt: skip


@given(st.lists(doubles, min_size=1, max_size=20), names, st.data())
@settings(max_examples=120, deadline=None)
def test_any_numbers_and_texts_come_back(values, name, data):
    cells = np.array(values)
    cells[data.draw(st.lists(st.integers(0, cells.size - 1)))] = np.nan
    words = np.array(data.draw(st.lists(texts, min_size=cells.size, max_size=cells.size)), dtype=object)
    study = study_of(
        Column(id="c1", name=name, kind="number", cells=cells),
        Column(id="c2", name=name + "'s\nnote", kind="text", cells=words),
        row_ids=range(5, 5 + cells.size),
    )
    same(study, there_and_back(study))


@given(
    st.lists(odd_texts, min_size=1, max_size=8),
    st.sampled_from(["number", "text", "category", "label", "date"]),
)
@settings(max_examples=150, deadline=None)
def test_whatever_is_typed_into_whatever_column_comes_back_as_it_stood(typed, kind):
    cells = np.full(len(typed), np.nan) if kind == "number" else np.full(len(typed), "", dtype=object)
    study = study_of(
        Column(id="c1", name="x", kind=kind, cells=cells),
        Column(id="c2", name="y", kind="text", cells=np.full(len(typed), "", dtype=object)),
    )
    column = study.tables[0].columns[0]
    edit = cell_changes.set_cells(
        study, "t1", {(row, "c1"): column.read(text) for row, text in enumerate(typed)}
    )
    after = edit.apply(study) if edit else study
    same(after, there_and_back(after))
    again = edit.inverse().apply(after) if edit else study
    same(study, again)
    same(again, there_and_back(again))


def test_a_text_that_only_looks_like_a_number_stays_a_text():
    cells = np.array([1.0, np.nan, np.nan, np.nan])
    study = study_of(
        Column(id="c1", name="x", kind="number", cells=cells, strays={1: "1_000", 2: "inf", 3: "1e999"}),
    )
    back = there_and_back(study).tables[0].columns[0]
    assert [back.cell(at, at) for at in range(4)] == [1.0, "1_000", "inf", "1e999"]


def test_the_same_study_gives_the_same_bytes():
    from tests.study.members import packed

    assert packed(demo_study()) == packed(demo_study())


def test_strays_formulas_and_ranges_come_back():
    cells = np.array([1.0, np.nan, 3])
    study = study_of(
        Column(id="c1", name="x (m)", kind="number", cells=cells, strays={1: "6.2?"}, low=0.0),
        Column(
            id="c2", name="l", kind="number", cells=np.log(cells), formula=Expression("log(x)", {"x": "c1"})
        ),
        Column(id="c3", name="d", kind="number", cells=cells * 2, formula=Draw(kind="normal", seed=3)),
    )
    back = there_and_back(study)
    same(study, back)
    again = cell_changes.set_cells(back, "t1", {(0, "c1"): np.e}).apply(back)
    assert again.tables[0].columns[1].cells[0] == 1.0


def test_the_file_is_an_open_package(tmp_path):
    path = tmp_path / "demo.tether"
    save_study(demo_study(), path)
    with zipfile.ZipFile(path) as package:
        descriptor = json.loads(package.read("datapackage.json"))
        told = json.loads(package.read("study.json"))
        text = package.read(descriptor["resources"][0]["path"]).decode()
    fields = [field["name"] for field in descriptor["resources"][0]["schema"]["fields"]]
    assert text.splitlines()[0] == ",".join(f'"{name}"' for name in fields)
    jsonschema.validate(told, study_schema())


def test_the_published_schema_is_current():
    published = Path(__file__).parent.parent.parent / "docs" / "study.schema.json"
    assert json.loads(published.read_text(encoding="utf-8")) == json.loads(json.dumps(study_schema()))


def test_saving_keeps_one_backup_and_no_litter(tmp_path):
    path = tmp_path / "s.tether"
    study = demo_study()
    save_study(study, path)
    first = path.read_bytes()
    save_study(changes.rename_study(study, "Other").apply(study), path)
    assert (tmp_path / "s.tether~").read_bytes() == first
    assert sorted(p.name for p in tmp_path.iterdir()) == ["s.tether", "s.tether~"]


def test_a_failed_save_leaves_the_old_file(tmp_path, monkeypatch):
    path = tmp_path / "s.tether"
    save_study(demo_study(), path)
    first = path.read_bytes()
    monkeypatch.setattr("os.fsync", lambda _: (_ for _ in ()).throw(OSError("full")))
    with pytest.raises(OSError, match="full"):
        save_study(demo_study(), path)
    assert path.read_bytes() == first
    assert [p.name for p in tmp_path.iterdir()] == ["s.tether"]


def zipped(**members):
    file = io.BytesIO()
    with zipfile.ZipFile(file, "w", zipfile.ZIP_DEFLATED) as package:
        for name, content in members.items():
            package.writestr(name, content)
    return file.getvalue()


def whole():
    file = io.BytesIO()
    write_package(demo_study(), file)
    return file.getvalue()


def changed(name, content):
    with zipfile.ZipFile(io.BytesIO(whole())) as package:
        members = {info.filename: package.read(info) for info in package.infolist()}
    return zipped(**(members | {name: content}))


def told(before, after):
    """study.json of the demo with one thing changed."""
    with zipfile.ZipFile(io.BytesIO(whole())) as package:
        return package.read("study.json").replace(before, after, 1)


def foreign(resources):
    return zipped(**{"datapackage.json": b'{"resources": ' + resources + b"}"})


_PATH = b'"path": "data/t2.csv"'
DEEP = b'{"a":' * 5000 + b"1" + b"}" * 5001
HOSTILE = {
    "nothing": (b"", Trouble.DAMAGED),
    "no zip": (b"x,y\n1,2\n", Trouble.DAMAGED),
    "half": (whole()[: len(whole()) // 2], Trouble.DAMAGED),
    "another zip": (zipped(**{"a.txt": "hello"}), Trouble.NOT_A_STUDY),
    "path trick": (changed("../../evil.csv", "x"), Trouble.DAMAGED),
    "absolute path": (changed("/tmp/evil.csv", "x"), Trouble.DAMAGED),
    "swelling zip": (changed("data/t1.csv", b"0" * 40_000_000), Trouble.TOO_LARGE),
    "deep json": (changed("study.json", b"[" * 100_000), Trouble.DAMAGED),
    "deep object": (changed("study.json", b'{"version":1,"layout":' + DEEP), Trouble.DAMAGED),
    "α of 5": (changed("study.json", told(b'"rules": {', b'"rules": {"alpha": 5.0')), Trouble.DAMAGED),
    "ids beyond 64 bits": (
        changed("study.json", told(_PATH, _PATH + b', "row_ids": [99999999999999999999]')), Trouble.DAMAGED
    ),
    "a table twice": (changed("study.json", told(b'"id": "t2"', b'"id": "t1"')), Trouble.DAMAGED),
    "a foreign path that is a number": (foreign(b'[{"path": 7}, 5, null]'), Trouble.DAMAGED),
    "a foreign list that is a text": (foreign(b'"all"'), Trouble.DAMAGED),
    "newer": (changed("study.json", b'{"version": 99}'), Trouble.TOO_NEW),
    "no version": (changed("study.json", b'{"title": "x"}'), Trouble.DAMAGED),
    "list": (changed("study.json", b"[1, 2]"), Trouble.DAMAGED),
    "ragged data": (changed("data/t1.csv", b"a,b\n1\n2,3,4\n"), Trouble.DAMAGED),
}  # fmt: skip


@pytest.mark.parametrize("name", HOSTILE)
def test_hostile_files_are_refused_in_one_sentence(name):
    from bright_tether.words.causes import unreadable

    content, trouble = HOSTILE[name]
    with pytest.raises(UnreadableFile) as found:
        read_package(content, "s.tether")
    assert found.value.trouble is trouble
    assert unreadable(found.value).count(".") <= 3
    assert "\n" not in unreadable(found.value)


def test_every_truncation_is_refused():
    content = whole()
    for cut in range(0, len(content) - 1, max(1, len(content) // 60)):
        with pytest.raises(UnreadableFile):
            read_package(content[:cut], "s.tether")


def test_flipped_bytes_never_escape():
    content, draw = whole(), np.random.default_rng(8)
    for _ in range(150):
        broken = bytearray(content)
        for at in draw.integers(0, len(content), 3):
            broken[at] ^= int(draw.integers(1, 256))
        try:
            read_package(bytes(broken), "s.tether")
        except UnreadableFile:
            continue


def test_another_programs_package_opens():
    resource = {"name": "lamps", "path": "lamps.csv", "dialect": {"delimiter": ";"}}
    descriptor = {"title": "Lamps", "resources": [resource | {"schema": {"missingValues": ["", "-9"]}}]}
    content = zipped(**{"datapackage.json": json.dumps(descriptor), "lamps.csv": "lux;hum\n1;2\n2;-9\n3;5\n"})
    study = read_package(content, "lamps.zip")
    assert (study.title, study.tables[0].name) == ("Lamps", "lamps")
    assert np.isnan(study.tables[0].columns[1].cells[1])
    assert not study.tethers[0].chosen


def test_exported_text_is_no_formula():
    study = study_of(
        Column(id="c1", name="=x", kind="number", cells=np.array([-1.0, 2])),
        Column(id="c2", name="n", kind="text", cells=np.array(["=1+1", "@sum"], dtype=object)),
    )
    file = io.BytesIO()
    write_csv(study.tables[0], file, inert=True)
    assert file.getvalue().decode() == '"\'=x","n"\n-1,"\'=1+1"\n2,"\'@sum"\n'


def wrong_types(draw, told):
    """A description with one of its values, somewhere, of another type."""
    holders, wrong = [], [None, 7, -1, "x", [], {}, True, 1e300, "\x00", 2**70, [None], {"a": 1}]
    todo = [told]
    while todo:
        one = todo.pop()
        if isinstance(one, dict | list) and one:
            keys = list(one) if isinstance(one, dict) else list(range(len(one)))
            holders += [(one, key) for key in keys]
            todo += [one[key] for key in keys]
    holder, key = draw.choice(holders)
    holder[key] = draw.choice(wrong)
    return json.dumps(told).encode()


def spoil_studies(count, seed):
    """How many spoiled studies were refused and how many read; what is read can be saved and read again."""
    draw, told = random.Random(seed), {"read": 0, "refused": 0}
    content = whole()
    with zipfile.ZipFile(io.BytesIO(content)) as package:
        parts = {info.filename: package.read(info) for info in package.infolist()}
    for turn in range(count):
        if turn % 3 == 0:
            made = bytearray(content)
            for _ in range(draw.randint(1, 4)):
                made[draw.randrange(len(made))] ^= draw.randrange(1, 256)
            made = bytes(made[: draw.choice([None, draw.randrange(len(made))])])
        elif turn % 3 == 1:
            name = draw.choice(["study.json", "datapackage.json"])
            left = parts if name == "study.json" else {k: v for k, v in parts.items() if k != "study.json"}
            made = zipped(**(left | {name: wrong_types(draw, json.loads(parts[name]))}))
        else:
            name = draw.choice(list(parts))
            part = bytearray(parts[name])
            at = draw.randrange(len(part))
            part[at : at + draw.randint(0, 9)] = draw.randbytes(draw.randint(0, 9))
            made = zipped(**(parts | {name: bytes(part)}))
        try:
            study = read_package(made, "s.tether")
        except UnreadableFile:
            told["refused"] += 1
        else:
            there_and_back(study)
            told["read"] += 1
    return told


def test_spoiled_studies_are_read_or_refused():
    assert sum(spoil_studies(90, 3).values()) == 90


@pytest.mark.verify
def test_thousands_of_spoiled_study_files(capsys):
    told = spoil_studies(5000, 4)
    with capsys.disabled():
        print(f"\nspoiled studies: {told['read']} read, {told['refused']} refused, 0 faults")


def test_a_study_of_version_1_opens_with_its_pins_under_ids():
    study = open_study(Path(__file__).parent / "version-1.tether")
    kept = {step.id: {view.id for view in step.views} | {""} for step in STEPS}
    assert len(study.pins) == 26
    for pin in study.pins:
        assert pin.step in ({""} if pin.tether is None else set(kept) - {"write-up"})
        assert pin.tether is None or pin.view in kept[pin.step]
    assert {pin.view for pin in study.pins if pin.step == "rehearse"} == kept["rehearse"] - {"", "held"}
    assert [pin.step for pin in study.pins if pin.frozen] == ["strength"]
    assert study.tethers[0].rehearse.source == "residuals"
    shown = [
        blocks_of(pin, Findings(study, study.tether(pin.tether)), NO_PRESS)
        for pin in study.pins
        if pin.tether
    ]
    assert all(shown), "and each shows something"
    again = read_package(packed(study), "again")
    assert again.pins == study.pins


def test_edits_of_version_1_are_made_again(tmp_path):
    study = open_study(Path(__file__).parent / "version-1.tether")
    for line in (Path(__file__).parent / "version-1.edits").read_bytes().splitlines()[1:]:
        study = decode_edit(line[9:], 1).apply(study)
    assert (study.pins[-1].step, study.pins[-1].view) == ("line", "other-lines")
    assert (study.tethers[0].rehearse.source, study.tethers[0].rehearse.draws) == ("residuals", 60)


def test_the_first_record_ends_at_a_line_break_outside_quotes():
    from bright_tether.study.saved_table import _head

    assert _head(b'"a\nb",c\n1,2\n') == b'"a\nb",c'
    assert _head(b"a,c\n1,2\n") == b"a,c"


@pytest.mark.parametrize(("name", "mark"), [("lamps.tsv", "\t"), ("lamps.csv", ",")])
def test_a_package_that_names_no_separator_is_read_by_the_ending_of_its_file(name, mark):
    resource = {"path": name, "name": "lamps"}
    text = "\n".join(mark.join(row) for row in (("lux", "hum"), ("1", "2"), ("2", "5"), ("3", "4"))) + "\n"
    study = read_package(
        zipped(**{"datapackage.json": json.dumps({"resources": [resource]}), name: text}), "l.zip"
    )
    assert [one.name for one in study.tables[0].columns] == ["lux", "hum"]
    assert study.tables[0].columns[1].cells.tolist() == [2.0, 5.0, 4.0]


def sourced(path):
    study = study_of(Column(id="c1", name="x", kind="number", cells=np.arange(3.0)))
    table = msgspec.structs.replace(study.tables[0], source=Source(path=str(path)))
    return msgspec.structs.replace(study, tables=(table,))


def written_path(file):
    with zipfile.ZipFile(file) as package:
        return re.search(rb'"path": "([^"]*pairs\.csv)"', package.read("study.json"))[1].decode()


@pytest.mark.parametrize("near", [True, False])
def test_a_source_near_a_study_is_kept_as_seen_from_there_where_that_is_wished(tmp_path, near):
    (tmp_path / "data").mkdir()
    study, place = sourced(tmp_path / "data" / "pairs.csv"), tmp_path / "s.tether"
    save_study(study, place, near=near)
    assert written_path(place) == ("data/pairs.csv" if near else str(tmp_path / "data" / "pairs.csv"))
    assert open_study(place).tables[0].source.path == str(tmp_path / "data" / "pairs.csv")


def test_a_study_handed_over_in_a_zip_sees_its_sources_from_where_it_lies(tmp_path):
    inner = io.BytesIO()
    write_package(sourced(tmp_path / "out" / "data" / "pairs.csv"), inner, tmp_path / "out")
    with zipfile.ZipFile(tmp_path / "handed.zip", "w") as package:
        package.writestr("out/study.tether", inner.getvalue())
    found = open_study(tmp_path / "handed.zip").tables[0].source.path
    assert found == str(tmp_path / "out" / "data" / "pairs.csv")
