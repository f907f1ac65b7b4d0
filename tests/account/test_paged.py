"""The account on paper: a PDF that a screen reader can read, with nothing torn and no page half empty."""

from collections import Counter
from types import SimpleNamespace

import msgspec
import pikepdf
import pytest
from msgspec.structs import replace

from account.test_page import TODAY
from account.universal import elements, faults_of
from bright_tether.account import paged
from bright_tether.account.composing import page_of
from bright_tether.account.export import export
from bright_tether.account.page import numbered
from bright_tether.demo.study import demo_study
from bright_tether.study.pins import Drawing, Grid


@pytest.fixture(scope="module")
def written(press, tmp_path_factory):
    """The proposed account of four of the demo's tethers, laid out once and written once."""
    demo = demo_study()
    study = msgspec.structs.replace(demo, tethers=demo.tethers[:4])
    path = tmp_path_factory.mktemp("paged") / "a.pdf"
    page = page_of(study, press, today=TODAY)
    export(page, study, path, press)
    return SimpleNamespace(page=page, study=study, path=path, sheets=paged.laid_out(page, study).pages)


def boxes(box):
    yield box
    for child in getattr(box, "children", ()):
        yield from boxes(child)


def test_a_pdf_has_no_fault_of_structure(written):
    assert faults_of(written.path) == []
    with pikepdf.open(written.path) as pdf:
        kinds = Counter(kind for _, kind, _ in elements(pdf))
        assert kinds["Figure"] == len(written.page.drawings) == 4
        assert kinds["H1"] == 1
        assert kinds["Table"] >= 12
        alts = [str(one.Alt) for one, kind, _ in elements(pdf) if kind == "Figure"]
        assert alts == [drawing.words for drawing in written.page.drawings]


@pytest.mark.parametrize("harm", ["no words", "no language", "untagged", "loose", "no font"])
def test_the_check_of_structure_finds_what_is_wrong(written, tmp_path, harm):
    with pikepdf.open(written.path) as pdf:
        if harm == "no words":
            next(one for one, kind, _ in elements(pdf) if kind == "Figure").Alt = pikepdf.String("")
        elif harm == "no language":
            del pdf.Root.Lang
        elif harm == "untagged":
            pdf.Root.MarkInfo.Marked = False
        elif harm == "loose":
            pdf.pages[0].contents_add(b"0 0 10 10 re f")
        else:
            fonts = [
                one for one in pdf.objects if isinstance(one, pikepdf.Dictionary) and "/FontFile3" in one
            ]
            del fonts[0]["/FontFile3"]
        pdf.save(tmp_path / "b.pdf")
    assert len(faults_of(tmp_path / "b.pdf")) >= 1


def test_no_page_but_the_last_is_half_empty_and_nothing_is_torn(written):
    for sheet in written.sheets[:-1]:
        root = sheet._page_box
        ends = [
            one.position_y + one.height
            for one in boxes(root)
            if type(one).__name__ in ("TextBox", "InlineReplacedBox")
            and one.position_y + one.height <= root.position_y + root.margin_height() - root.margin_bottom
        ]
        text = root.height
        assert max(ends) - root.content_box_y() > text / 2, "a half-empty page"
    for sheet in written.sheets[:-1]:
        last = [one for one in boxes(sheet._page_box) if one.element is not None][-3:]
        assert not any(one.element_tag in ("h1", "h2", "h3") for one in last), (
            "a heading at the foot of a page"
        )


def test_captions_stay_with_their_tables_and_long_tables_repeat_their_heads(written, press):
    rows = tuple((f"row {at}", f"{at}") for at in range(120))
    long = Grid(title="Long", heads=("name", "value of it"), rows=rows)
    chapter = written.page.chapters[0]
    entry = replace(chapter.entries[-1], blocks=(long,))
    page = replace(written.page, chapters=(replace(chapter, entries=(entry,)),), rows=(), references=())
    sheets = paged.laid_out(page, written.study).pages
    tables = [[one for one in boxes(sheet._page_box) if one.element_tag == "thead"] for sheet in sheets]
    assert len(sheets) >= 3
    assert all(tables)
    for sheet in written.sheets:
        kinds = [one for one in boxes(sheet._page_box) if type(one).__name__ == "LineBox"]
        words = (
            "".join(one.text for one in boxes(kinds[-2]) if hasattr(one, "text")) if len(kinds) > 1 else ""
        )
        assert not words.startswith("Table "), "a caption without its table"


def test_contents_are_listed_from_three_tethers_on_with_their_pages(written, press):
    assert len(written.page.contents) == 6
    two = msgspec.structs.replace(written.study, tethers=written.study.tethers[:2])
    assert page_of(two, press, today=TODAY).contents == ()
    first = "".join(one.text for one in boxes(written.sheets[0]._page_box) if hasattr(one, "text"))
    assert "Contents" in first
    places = [at for at, sheet in enumerate(written.sheets) for name in sheet.anchors if name == "s3"]
    assert len(places) == 1
    assert f" {places[0] + 1}" in first.split("conductance")[1]


def test_an_account_loads_nothing_from_elsewhere(written, monkeypatch):
    import urllib.request

    def refuse(*_, **__):
        raise AssertionError("something was asked for")

    monkeypatch.setattr(urllib.request.OpenerDirector, "open", refuse)
    bad = Drawing(
        title="Bad", words="bad", svg='<svg xmlns="http://www.w3.org/2000/svg"><!DOCTYPE', width=9, height=9
    )
    chapter = written.page.chapters[0]
    entry = replace(chapter.entries[0], blocks=(bad,))
    page = numbered(replace(
        written.page, title='"><img src="http://elsewhere.example/a.png">',
        chapters=(replace(chapter, entries=(entry,)),),
    ))  # fmt: skip
    assert paged.pdf_of(page, written.study).startswith(b"%PDF-1.7")
    with pytest.raises(ValueError, match="loads nothing"):
        paged._served(page).fetch("http://elsewhere.example/a.png")
