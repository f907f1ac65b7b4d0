"""``bright-tether report`` without a display."""

import pytest

from bright_tether.command.parser import run
from bright_tether.demo.study import demo_study
from bright_tether.study.package import save_study


def call(*arguments):
    def press():
        from bright_tether.pictures.press import press_alone

        return press_alone()

    return run(["report", *map(str, arguments)], lambda files: 1, press)


@pytest.mark.parametrize("kind", ["html", "pdf", "docx", "odt", "md"])
def test_every_kind_is_written(qapp, tmp_path, capsys, kind):
    save_study(demo_study(), tmp_path / "survey.tether")
    path = tmp_path / f"account.{kind}"
    assert call(tmp_path / "survey.tether", "-o", path, "--style", "compact") == 0
    assert capsys.readouterr().out.splitlines()[0] == str(path)
    assert path.stat().st_size > 4000


def test_evidence_stands_beside_it(qapp, tmp_path, capsys):
    assert call("demo", "-o", tmp_path / "a.md", "--evidence") == 0
    told = capsys.readouterr().out
    assert "a-pictures/picture-1.svg" in told
    assert "a-evidence/reproduce.py" in told


@pytest.mark.parametrize(
    ("study", "output", "said"),
    [
        ("demo", "a.doc", "A write-up can be written as .html, .pdf, .docx, .odt, .md"),
        ("nowhere.tether", "a.html", "nowhere.tether"),
        ("broken.tether", "a.html", "broken.tether"),
        ("demo", "no/such/folder/a.html", "could not be written"),
    ],
)
def test_a_bad_call_says_one_line(qapp, tmp_path, capsys, monkeypatch, study, output, said):
    monkeypatch.chdir(tmp_path)
    (tmp_path / "broken.tether").write_bytes(b"PK no zip")
    assert call(study, "-o", output) == 2
    error = capsys.readouterr().err
    assert said in error
    assert error.count("\n") == 1
    assert not (tmp_path / "a.html").exists()
