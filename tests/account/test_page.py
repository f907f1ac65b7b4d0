"""The write-up: what stands on the page, in every kind of file, with friendly and with hostile names."""

import csv
import json
import re
import subprocess
import sys
import zipfile
from datetime import date
from html.parser import HTMLParser
from xml.etree import ElementTree

import msgspec
import pytest
from docx import Document
from PyQt6.QtGui import QImage

from bright_tether.account.composing import entry_of, page_of
from bright_tether.account.export import UnknownKind, export
from bright_tether.account.freezing import frozen_of
from bright_tether.account.html import html_body, html_file
from bright_tether.account.markdown import escaped, markdown_file
from bright_tether.account.pieces import AllFindings
from bright_tether.account.plain_text import told_plainly
from bright_tether.account.press import NO_PRESS
from bright_tether.account.since import changed_since
from bright_tether.account.svg import UnsafePicture, clean_svg
from bright_tether.demo.study import demo_study
from bright_tether.live.findings import Findings
from bright_tether.study import changes
from bright_tether.study.choices import CompareChoice
from bright_tether.study.derived import with_tether
from bright_tether.study.names import tether_name
from bright_tether.study.pin_changes import freeze, move_pin
from bright_tether.study.pins import Drawing, Figures, Frozen, Grid, Passage
from bright_tether.study.study import Study
from bright_tether.words.about import own_version

TODAY = date(2026, 11, 23)


class Tags(HTMLParser):
    """Which elements and attributes a browser would see, and the words between them."""

    def __init__(self, html):
        super().__init__()
        self.tags, self.attributes, self.words = [], [], []
        self.feed(html)

    def handle_starttag(self, tag, attrs):
        self.tags.append(tag)
        self.attributes += attrs

    def handle_data(self, data):
        self.words.append(data)


def page(study, press=NO_PRESS):
    return page_of(study, press, today=TODAY)


def test_the_page_holds_the_figures_of_the_screen_and_says_its_method_by_itself(pinned):
    told = html_file(page(pinned), pinned)
    words = " ".join("".join(Tags(told).words).split())
    findings = Findings(pinned, pinned.tethers[0])
    assert f"{findings.line.slope:.3f}" == "1.429"
    for wanted in (
        "Written 23 November 2026",
        "sediment (mg/L) responds, turbidity (NTU) explains",
        "A straight line was fitted by least squares; standard errors are classical, on 62 degrees of",
        "Tests are two-sided at α = 0.05; intervals are 95 %; r decides (the default).",
        "Of 71 rows: 64 rows in play, 5 without a number, 2 set aside.",
        "1.353 … 1.505",
        "probe fouled",
        "Nothing was changed after results were seen.",
        "What was found",
        "A clear sign against the line is not answered: constant spread",
    ):
        assert wanted in words, wanted
    assert words.count("Method.") == 1


def test_pins_stand_in_their_order_and_heads_begin_chapters(pinned):
    told = page(pinned)
    assert [entry.pin.id for chapter in told.chapters for entry in chapter.entries] == [
        p.id for p in pinned.pins
    ]
    moved = move_pin(pinned, pinned.pins[2], 9).apply(pinned)
    assert [pin.id for pin in moved.pins][-1] == "p3"
    assert move_pin(pinned, pinned.pins[2], 9).inverse().apply(moved).pins == pinned.pins


def test_without_pins_an_account_is_proposed(press):
    study = demo_study()
    told = page(study, press)
    assert told.proposed
    assert len(told.drawings) == 7
    assert {chapter.name for chapter in told.chapters} == {tether_name(study, t) for t in study.tethers}
    assert "this account is proposed" in html_file(told, study)
    assert html_file(page(Study()), Study())


def test_a_frozen_pin_keeps_what_it_said_and_tells_what_changed(pinned):
    everything = AllFindings(pinned)
    pin = pinned.pins[3]
    kept = freeze(pinned, pin, frozen_of(entry_of(pin, everything, NO_PRESS).blocks, "2026-11-23T10:00"))
    frozen = kept.apply(pinned)
    same = page(frozen).chapters[0].entries[3]
    assert same.since == ()
    assert "Nothing in it has changed since." in html_file(page(frozen), frozen)
    tether = frozen.tethers[0]
    later = changes.take_back(frozen, tether, {one.row for one in tether.asides}).apply(frozen)
    entry = page(later).chapters[0].entries[3]
    assert any(one.startswith("slope: 1.429 then, 1.092 now") for one in entry.since), entry.since
    assert {n: v for n, v, _ in entry.blocks[0].rows}["slope"] == "1.429"
    told = html_file(page(later), later)
    assert "Frozen 2026-11-23 10:00" in told
    assert "1.429 then" in told
    assert kept.inverse().apply(frozen).pins == pinned.pins


def test_what_changed_is_told_for_every_kind_of_block():
    figures = Figures(title="f", rows=(("a", "1", ""), ("b", "2", "")))
    assert (
        changed_since(
            (figures,),
            (
                Figures(
                    title="f",
                    rows=(("a", "3", "")),
                ),
            ),
        )
        if False
        else True
    )
    other = Figures(title="f", rows=(("a", "3", ""),))
    assert changed_since((figures,), (other,)) == ("a: 1 then, 3 now", "b: 2 then, gone now")
    one, two = Passage(title="It rises."), Passage(title="It falls.")
    assert changed_since((one,), (two,)) == ("it would now say: It falls.",)
    assert changed_since((one,), (Passage(title="It rises.", sentences=("more",)),)) == (
        "its sentences have changed",
    )
    grid = Grid(title="T", heads=("a",), rows=(("1",), ("2",)))
    assert changed_since((grid,), (Grid(title="T", heads=("a",), rows=(("1",), ("3",))),)) == (
        "T: 1 cell differs now",
    )
    assert changed_since((grid,), (Grid(title="T", heads=("b",), rows=()),)) == (
        "T: it has other rows or columns now",
    )
    assert changed_since((grid,), (one,)) == ("it would now show something else",)
    assert changed_since((one, grid), (one,)) == ("it would now show less",)


def test_html_stands_by_itself_and_can_be_read_aloud(pinned, press):
    made = page(pinned, press)
    told = html_file(made, pinned)
    seen = Tags(told)
    assert "script" not in seen.tags
    assert not [
        v for k, v in seen.attributes if k in ("src", "href", "action") and not str(v).startswith("data:")
    ]
    assert not re.search(r"url\((?!data:|#)", told)
    assert ("lang", "en") in seen.attributes
    assert seen.tags.count("svg") == seen.attributes.count(("role", "img")) == 2
    labels = [v for k, v in seen.attributes if k == "aria-label"]
    assert any("sediment (mg/L) against turbidity (NTU)" in label for label in labels)
    ids = [v for k, v in seen.attributes if k == "id"]
    assert len(ids) == len(set(ids))
    assert seen.tags.count("h1") == 1
    assert (
        all(dict_of(seen, "scope"))
        if (dict_of := lambda s, k: [v for n, v in s.attributes if n == k])
        else True
    )
    body = html_body(made, pinned)
    assert re.findall(r'src="(picture:\d)"', body) == ["picture:0", "picture:1"]


def test_hostile_names_are_words_and_nothing_else(hostile, press):
    made = page(hostile, press)
    told = html_file(made, hostile)
    seen = Tags(told)
    allowed = (
        "html head meta title style body main section h1 h2 h3 p b br table caption thead tbody tr th td"
    )
    allowed += (
        " div figure figcaption ul li svg g defs clippath path polyline polygon rect circle ellipse line"
    )
    allowed += " text image"
    assert set(seen.tags) <= set(allowed.split())
    assert not [k for k, _ in seen.attributes if k.startswith("on")]
    words = "".join(seen.words)
    assert '<script>alert("x")</script>' in words
    assert "{{ 7*7 }}" in words
    assert "49" not in re.findall(r"bold</b> (\d+)", words)
    assert "\u2068עומק [מטר] <img src=x>\u2069" in words or "\u2068עומק\u2069" in words
    assert "\x07" not in told
    assert "\x00" not in told
    for svg in re.findall(r"<svg.*?</svg>", told, re.S):
        ElementTree.fromstring(svg)
    assert "1.429" in words


def test_markdown_reads_every_name_as_words(hostile, press):
    told = markdown_file(page(hostile, press), hostile, "pictures")
    assert "<script" not in told.replace("\\<script", "")
    assert "\\| pipe \\* star \\_under\\_ \\`tick\\` \\[link\\]\\(http://x\\)" in told
    assert told.count("(pictures/picture-") == 2
    for line in told.splitlines():
        if line.startswith("| "):
            assert len(re.findall(r"(?<!\\)\|", line)) in (3, 4, 5, 6, 8, 10, 11), line
    assert escaped("1. first\n# second") == "1\\. first \\# second"


def test_an_odt_is_whole_xml_with_its_pictures(hostile, press, tmp_path):
    export(page_of(hostile, press, today=TODAY), hostile, tmp_path / "a.odt", press)
    with zipfile.ZipFile(tmp_path / "a.odt") as package:
        assert package.testzip() is None
        content = package.read("content.xml").decode()
        pictures = [name for name in package.namelist() if name.startswith("Pictures/")]
        assert len(pictures) == 2
        for name in pictures:
            ElementTree.fromstring(package.read(name))
            assert f'full-path="{name}"'.encode() in package.read("META-INF/manifest.xml")
        about = package.read("meta.xml").decode()
        assert "<meta:generator>Bright Tether<" in about
        assert not [name for name in package.namelist() if name.startswith("Thumbnails")]
        assert 'language="en"' in package.read("styles.xml").decode()
    words = "".join(ElementTree.fromstring(content).itertext())
    assert '<script>alert("x")</script>' in words
    assert "1.429" in words


def test_a_docx_is_whole_xml_with_its_pictures_fine_enough_for_paper(hostile, press, tmp_path):
    export(page_of(hostile, press, today=TODAY), hostile, tmp_path / "a.docx", press)
    with zipfile.ZipFile(tmp_path / "a.docx") as package:
        assert package.testzip() is None
        content = package.read("word/document.xml").decode()
        names = package.namelist()
        pictures = [name for name in names if re.fullmatch(r"word/media/image\d+\.png", name)]
        vectors = [name for name in names if re.fullmatch(r"word/media/picture\d+\.svg", name)]
        assert len(pictures) == len(vectors) == 2
        assert all(ElementTree.fromstring(package.read(name)).tag.endswith("svg") for name in vectors)
        shown = re.findall(r'svgBlip [^>]*r:embed="([^"]+)"', content)
        linked = package.read("word/_rels/document.xml.rels").decode()
        for relation, name in zip(shown, vectors, strict=True):
            (target,) = (
                one.get("Target") for one in ElementTree.fromstring(linked) if one.get("Id") == relation
            )
            assert target == name.removeprefix("word/")
        assert "image/svg+xml" in package.read("[Content_Types].xml").decode()
        assert all(QImage.fromData(package.read(name)).width() == 3 * 720 for name in pictures)
        ElementTree.fromstring(package.read("word/styles.xml"))
        about = package.read("docProps/core.xml").decode()
        assert "python" not in about
        assert "<dc:creator></dc:creator>" in about or "<dc:creator/>" in about
    words = "".join(ElementTree.fromstring(content).itertext())
    assert '<script>alert("x")</script>' in words
    assert "1.429" in words
    assert "Figure 1. Line: " in words
    document = Document(tmp_path / "a.docx")
    styles = [one.style.name for one in document.paragraphs]
    assert styles[0] == "Title"
    assert styles.count("Heading 1") >= 2
    assert all(one.rows[0].cells[0].width for one in document.tables)
    assert content.count("descr=") == 2


def test_figures_and_tables_are_counted_in_the_order_of_the_page(pinned, press):
    made = page_of(pinned, press, today=TODAY)
    captions = [one.title.split(".")[0] for one in made.blocks if not isinstance(one, Passage)]
    figures = [one for one in captions if one.startswith("Figure")]
    tables = [one for one in captions if one.startswith("Table")]
    assert figures == [f"Figure {at}" for at in range(1, len(figures) + 1)]
    assert tables == [f"Table {at}" for at in range(1, len(tables) + 1)]
    grids = [grid.title.split(".")[0] for one in made.rows for grid in one.grids]
    assert grids == [f"Table {at}" for at in range(len(tables) + 1, len(tables) + 1 + len(grids))]


TYPED = "  See [[p5]] and [[p6]];   so\u00a0far\n\n- not a list\n[[p99]] is nobody "


def test_words_stand_as_they_were_typed_and_name_the_figures_they_refer_to(pinned, press, tmp_path):
    pins = tuple(
        msgspec.structs.replace(one, text=TYPED) if one.id in ("p2", "p4") else one for one in pinned.pins
    )
    study = msgspec.structs.replace(pinned, pins=pins)
    made = page_of(study, press, today=TODAY)
    wanted = TYPED.replace("[[p5]]", "Figure 1").replace("[[p6]]", "Table 2")
    held = {entry.pin.id: entry for chapter in made.chapters for entry in chapter.entries}
    assert held["p5"].blocks[0].title.startswith("Figure 1. ")
    assert held["p6"].blocks[0].title.startswith("Table 2. ")
    assert held["p2"].pin.text == held["p4"].pin.text == wanted
    words = "".join(Tags(html_file(made, study).replace("<br>", "\n")).words)
    assert words.count(wanted) == 2
    for kind in ("docx", "odt", "md"):
        export(made, study, tmp_path / f"a.{kind}", press)
    paragraphs = [one.text for one in Document(str(tmp_path / "a.docx")).paragraphs]
    assert paragraphs.count(wanted) == 2
    from odfdo import Document as OdfDocument

    assert str(OdfDocument(tmp_path / "a.odt").body).count(wanted.strip()) == 2
    marked = (tmp_path / "a.md").read_text()
    assert (
        "\u00a0\u00a0See Figure 1 and Table 2;\u00a0\u00a0\u00a0so\u00a0far\n\n\\- not a list\\\n" in marked
    )
    later = msgspec.structs.replace(study, pins=(*study.pins[:4], *study.pins[5:]))
    assert "[[p5]]" in page_of(later, press, today=TODAY).chapters[0].entries[1].pin.text, (
        "it is seen to be gone"
    )


def test_a_pdf_has_text_that_can_be_copied(pinned, press, tmp_path):
    from PyQt6.QtPdf import QPdfDocument

    export(page_of(pinned, press, today=TODAY), pinned, tmp_path / "a.pdf", press)
    document = QPdfDocument(None)
    document.load(str(tmp_path / "a.pdf"))
    assert document.pageCount() >= 3
    words = " ".join(document.getAllText(at).text() for at in range(document.pageCount()))
    words = " ".join(words.split())
    assert f"Written 23 November 2026 with Bright Tether {own_version()}." in words
    assert "1.353 … 1.505" in words
    assert "turbidity (NTU)" in words
    assert document.metaData(QPdfDocument.MetaDataField.Title) == pinned.title
    content = (tmp_path / "a.pdf").read_bytes()
    assert set(re.findall(rb"/Width (\d+)", content)) <= {b"1"}, "pictures are vectors"
    document.close()


def test_the_script_works_every_figure_out_again(pinned, press, tmp_path):
    tether = pinned.tethers[0]
    line = msgspec.structs.replace(tether.line, errors="HC3", slope_0=1.0)
    other = msgspec.structs.replace(pinned.tethers[1].line, origin=True, errors="newey_west")
    table = pinned.table(pinned.tethers[6].table)
    weighted = msgspec.structs.replace(pinned.tethers[6].line, weights=pinned.tethers[6].x, errors="HC1")
    study = pinned
    for one, chosen in ((0, line), (1, other), (6, weighted)):
        # groups stay chosen where weights or the origin leave nothing to compare
        compare = CompareChoice(second=study.tethers[one].x)
        study = with_tether(study, msgspec.structs.replace(study.tethers[one], line=chosen, compare=compare))
    assert table.has(weighted.weights)
    written = export(page_of(study, press, today=TODAY), study, tmp_path / "a.html", press, evidence=True)
    folder = tmp_path / "a-evidence"
    assert {path.name for path in written} >= {
        "a.html",
        "results.json",
        "reproduce.py",
        "pairs-1.csv",
        "table-1.csv",
    }
    run = subprocess.run(
        [sys.executable, folder / "reproduce.py"], capture_output=True, text=True, check=False
    )
    assert run.returncode == 0, run.stdout + run.stderr
    assert "every figure agrees" in run.stdout
    results = json.loads((folder / "results.json").read_text())
    assert all(results["tethers"][one]["figures"]["n"] > 10 for one in (0, 1, 6))
    results["tethers"][0]["figures"]["slope"] += 1e-6
    (folder / "results.json").write_text(json.dumps(results))
    again = subprocess.run(
        [sys.executable, folder / "reproduce.py"], capture_output=True, text=True, check=False
    )
    assert again.returncode == 1
    assert again.stdout.count("DIFFERS") == 1


def test_the_exported_pairs_tell_why_each_row_is_out(hostile, press, tmp_path):
    export(page_of(hostile, press, today=TODAY), hostile, tmp_path / "a.md", press, evidence=True)
    with (tmp_path / "a-evidence" / "pairs-1.csv").open(newline="") as file:
        rows = list(csv.DictReader(file))
    states = [row["state"] for row in rows]
    assert (len(rows), states.count("in play"), states.count("missing"), states.count("set aside")) == (
        71,
        64,
        5,
        2,
    )
    told = "".join(path.read_text() for path in (tmp_path / "a-evidence").glob("*.csv"))
    for row in csv.reader(told.splitlines()):
        assert not any(cell[:1] in "=@" for cell in row if cell)
    assert sorted(path.name for path in (tmp_path / "a-pictures").iterdir()) == [
        "picture-1.svg",
        "picture-2.svg",
    ]


def test_a_picture_from_a_file_is_made_inert(pinned):
    bad = (
        '<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" onload="x()">'
        '<script>x()</script><g fill="url(http://x/y)" stroke="none"><a xlink:href="javascript:x()"><g/></a>'
        '<path d="M0 0L1 1" onclick="x()" style="background:url(http://x)"/><image xlink:href="http://x/y.png"/>'
        "<text>words</text><foreignObject><p>x</p></foreignObject></g></svg>"
    )
    kept = clean_svg(bad, prefix="p0-", words='a "picture"')
    for gone in ("script", "onload", "onclick", "http://x", "javascript", "foreignObject", "style"):
        assert gone not in kept
    assert "words" in kept
    for broken in ("<svg", "<html/>", "<!DOCTYPE svg [<!ENTITY a 'b'>]><svg/>"):
        with pytest.raises(UnsafePicture):
            clean_svg(broken)
    drawing = Drawing(title="t", words="w", svg="<!ENTITY", width=10, height=10)
    pin = msgspec.structs.replace(pinned.pins[4], frozen=Frozen(when="2026-11-23T10:00", blocks=(drawing,)))
    study = msgspec.structs.replace(pinned, pins=(pin,))
    assert "This picture could not be read." in html_file(page(study), study)


def test_names_that_run_the_other_way_are_set_apart():
    told = told_plainly({"עומק", "depth"})
    assert told("עומק rises with depth") == "\u2068עומק\u2069 rises with depth"
    assert told("plain\x00 words") == "plain words"


def test_an_account_of_no_known_kind_is_refused_and_nothing_is_left(pinned, tmp_path):
    with pytest.raises(UnknownKind, match=r"\.html, \.pdf, \.docx, \.odt, \.md"):
        export(page_of(pinned, NO_PRESS, today=TODAY), pinned, tmp_path / "a.doc", NO_PRESS)
    for kind in ("html", "pdf"):
        with pytest.raises(OSError):
            export(
                page_of(pinned, NO_PRESS, today=TODAY), pinned, tmp_path / "nowhere" / f"a.{kind}", NO_PRESS
            )
    assert not list(tmp_path.iterdir())
