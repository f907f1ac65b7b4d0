"""What every test may use: files, tables, and the real window."""

import sys
import threading
from pathlib import Path

import pytest

from bright_tether.tables.read_plan import guess_plan, read_content

sys.path.insert(0, str(Path(__file__).parent))  # the hand is imported by name

SHORT = "depth (m),flow (m3/s),note\n1,2.1,a\n2,3.9,b\n3,6.2,c\n4,7.8,d\n5,10.1,e\n"


@pytest.fixture(autouse=True)
def own_state(tmp_path, monkeypatch):
    """Journals, holds and recent studies of a test are its own."""
    monkeypatch.setenv("XDG_STATE_HOME", str(tmp_path / "state"))
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path / "share"))


@pytest.fixture
def csv_file(tmp_path):
    """A function that writes a text to a file and gives its path."""

    def write(text, name="pairs.csv", encoding="utf-8"):
        path = Path(tmp_path) / name
        path.write_bytes(text if isinstance(text, bytes) else text.encode(encoding))
        return path

    return write


@pytest.fixture
def short_file(csv_file):
    """Five clean pairs."""
    return csv_file(SHORT)


@pytest.fixture
def short_table():
    """Five clean pairs as a table."""
    content = SHORT.encode()
    return read_content(content, "pairs.csv", "t1", guess_plan(content, "pairs.csv"))


@pytest.fixture
def open_window(qtbot):
    """A function that opens the real window with what the arguments ask for."""
    import pyqtgraph
    from PyQt6.QtWidgets import QApplication

    from hand import let_go

    # The hand of a test moves faster than the plots listen to.
    pyqtgraph.setConfigOption("mouseRateLimit", -1)
    from bright_tether.desktop.start import build

    opened = []

    def open_it(*arguments):
        window = build(QApplication.instance(), [str(argument) for argument in arguments])
        with qtbot.waitActive(window):
            window.show()
            window.activateWindow()
        opened.append(window)
        return window

    yield open_it
    for window in opened:
        let_go(window)
    assert not [thread for thread in threading.enumerate() if thread is not threading.main_thread()]
