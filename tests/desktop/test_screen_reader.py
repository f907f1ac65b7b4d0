"""What a screen reader is told of the window, read through the accessibility bus as it reads it."""

import json
import os
import shutil
import subprocess
import sys
from pathlib import Path

import pytest

ROOT = Path(__file__).parents[2]
STEPS = ("line", "gather")
NEEDED = ("Xvfb", "dbus-run-session")
BRIDGE = Path("/usr/libexec/at-spi-bus-launcher")


@pytest.fixture(scope="module")
def trees():
    """The nodes of the window on each step."""
    assert all(map(shutil.which, NEEDED)), "./tether test installs these"
    assert BRIDGE.exists(), "./tether test installs it"
    with subprocess.Popen(
        ["Xvfb", "-displayfd", "1", "-screen", "0", "1440x900x24", "-nolisten", "tcp"],
        stdout=subprocess.PIPE, stderr=subprocess.DEVNULL, text=True,
    ) as server:  # fmt: skip
        try:
            environment = os.environ | {"DISPLAY": f":{server.stdout.readline().strip()}"}
            call = ["dbus-run-session", "--", sys.executable, "-m", "tests.atspi", *STEPS]
            told = subprocess.run(
                call, cwd=ROOT, env=environment, capture_output=True, text=True, check=False, timeout=120
            )
        finally:
            server.terminate()
    assert told.returncode == 0, told.stderr
    lines = [line for line in told.stdout.splitlines() if line.startswith("[{")]  # the bus speaks there too
    return dict(zip(STEPS, map(json.loads, lines), strict=True))


@pytest.mark.parametrize("step", STEPS)
def test_everything_that_keys_reach_has_a_name_and_a_role(trees, step):
    reached = [one for one in trees[step] if one["keys"]]
    assert len(reached) > 15
    assert not [one for one in reached if not one["name"]]
    assert {one["role"] for one in reached} <= {
        "push button", "radio button", "check box", "toggle button", "combo box", "text", "table", "list",
        "slider", "spin button", "panel", "scroll pane", "filler", "frame", "list item", "application", "canvas",
        "window", "editbar", "button",
    }  # fmt: skip


def test_steps_are_one_of_nine_and_cards_are_buttons(trees):
    found = {(one["role"], one["name"]) for one in trees["line"]}
    assert ("radio button", "Step Doubts") in found
    roles = {name: role for role, name in found}
    assert "button" in roles["Tether turbidity ⟶ sediment"]
    assert "button" in roles["Study"]
    assert (
        "button" in {name: role for role, name in ((n["role"], n["name"]) for n in trees["gather"])}["x axis"]
    )


def test_words_and_figures_are_heard_and_not_what_they_are_called_inside(trees):
    names = {one["name"]: one["description"] for one in trees["line"]}
    assert any(name.startswith("Each extra NTU goes with about 1.43 mg/L") for name in names)
    assert "1.429 1.353 … 1.505" in names["slope"]
    assert not {"headline", "sentences", "rows in play", "title"} & {
        one["name"] for one in trees["line"] if one["role"] == "label"
    }
    picture = next(one for one in trees["line"] if one["name"] == "Line picture")
    assert picture["description"]
