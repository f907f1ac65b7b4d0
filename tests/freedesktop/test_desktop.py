"""What the desktop is told is valid by its own validators, and is put where it looks."""

import shutil
import subprocess
from importlib.resources import as_file, files

import pytest

from bright_tether.command.parser import run

VALIDATORS = {
    "bright-tether.desktop": ["desktop-file-validate"],
    "bright-tether.metainfo.xml": ["appstreamcli", "validate", "--no-net"],
}


@pytest.mark.parametrize("name", VALIDATORS)
def test_valid_by_its_own_validator(name):
    with as_file(files("bright_tether.freedesktop").joinpath(name)) as path:
        told = subprocess.run([*VALIDATORS[name], path], capture_output=True, text=True, check=False)
    assert told.returncode == 0, told.stdout + told.stderr


def test_installed_for_the_user_and_known_to_the_desktop(tmp_path, capsys):
    assert run(["install-desktop"], lambda files: 1) == 0
    said = capsys.readouterr().out.splitlines()
    share = tmp_path / "share"
    assert len(said) == 6
    assert (share / "applications" / "bright-tether.desktop").is_file()
    assert (share / "icons" / "hicolor" / "scalable" / "apps" / "bright-tether.svg").is_file()
    if shutil.which("update-mime-database"):
        assert "application/x-bright-tether-study:*.tether" in (share / "mime" / "globs").read_text()
