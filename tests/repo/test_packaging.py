"""Installed like other programs: what the desktop and the shell are told, the wheel in a bare environment."""

import os
import re
import shutil
import subprocess
import sys
import sysconfig
import venv
from importlib.resources import files
from pathlib import Path

from bright_tether.command.parser import command_parser, run

ROOT = Path(__file__).parents[2]
sys.path.insert(0, str(ROOT / "packaging"))
import completion  # noqa: E402


def test_the_manual_names_every_option():
    page = files("bright_tether.freedesktop").joinpath("bright-tether.1").read_text()
    told = page.replace("\\-", "-")
    options = {
        text
        for one in completion.all_parsers(command_parser())
        for text in one._option_string_actions
        if text[:2] == "--"
    }
    assert not {one for one in options - {"--help"} if not re.search(rf"{one}(?![\w-])", told)}


def test_the_completion_is_that_of_the_command():
    assert completion.PLACE.read_text(encoding="utf-8") == completion.completion()
    asked = 'COMP_WORDS=(bright-tether rep); COMP_CWORD=1; _shtab_bright_tether; echo "${COMPREPLY[@]}"'
    script = f"source {completion.PLACE}; {asked}"
    told = subprocess.run(["bash", "-c", script], capture_output=True, text=True, check=False)
    assert told.stdout.split() == ["report"]


def test_what_was_put_into_the_home_is_taken_away_and_studies_stay(tmp_path, capsys):
    study = tmp_path / "share" / "bright-tether" / "mine.tether"
    study.parent.mkdir(parents=True)
    study.write_text("kept")
    assert run(["install-desktop"], lambda opened: 1) == 0
    put = [Path(line) for line in capsys.readouterr().out.splitlines()]
    assert len(put) == 6
    assert all(one.is_file() for one in put)
    assert run(["remove-desktop"], lambda opened: 1) == 0
    assert not any(one.exists() for one in put)
    assert study.read_text() == "kept"


def test_wheel_and_archive_are_built_and_run_in_a_bare_environment(tmp_path):
    source = tmp_path / "source"
    skipped = shutil.ignore_patterns("__pycache__", "*.egg-info", "build")
    shutil.copytree(ROOT / "src", source / "src", ignore=skipped)
    for name in ("pyproject.toml", "README.md", "LICENSE"):
        shutil.copy(ROOT / name, source)
    build = 'from setuptools.build_meta import *; build_sdist("dist"); build_wheel("dist")'
    environment = {key: value for key, value in os.environ.items() if key != "PYTHONPATH"}
    quiet = {"check": True, "capture_output": True, "env": environment}
    subprocess.run([sys.executable, "-c", build], cwd=source, **quiet)
    (wheel,) = (source / "dist").glob("*.whl")
    assert list((source / "dist").glob("*.tar.gz"))
    bare = tmp_path / "bare"
    venv.create(bare, with_pip=False)
    python = bare / "bin" / "python"
    pip = [sys.executable, "-m", "pip", "--python", python, "install", "-q", "--no-deps", "--no-index"]
    subprocess.run([*pip, wheel], **quiet)
    (site,) = (bare / "lib").glob("python*/site-packages")
    (site / "others.pth").write_text(sysconfig.get_paths()["purelib"])  # what it stands on, as installed here
    told = subprocess.run([bare / "bin" / "bright-tether", "--version"], cwd=tmp_path, text=True, **quiet)
    assert told.stdout == "Bright Tether 0.1.0, GPL-3.0-or-later\n"
    asked = [bare / "bin" / "bright-tether", "report", "demo", "-o", tmp_path / "account.md"]
    subprocess.run(asked, cwd=tmp_path, **quiet)
    assert "sediment" in (tmp_path / "account.md").read_text(encoding="utf-8")
