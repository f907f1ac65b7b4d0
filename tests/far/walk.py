"""Walk a table that stays where it is through every step, with no more memory than is given: FILE MEGABYTES."""

import resource
import sys
import time
from datetime import date
from pathlib import Path

from PyQt6.QtWidgets import QApplication

from bright_tether.account.composing import page_of
from bright_tether.desktop.start import build
from bright_tether.pictures.press import press_alone
from bright_tether.steps.catalogue import IDS
from bright_tether.study.pin_changes import put_pin

path, limit = Path(sys.argv[1]), int(sys.argv[2]) << 20
resource.setrlimit(resource.RLIMIT_DATA, (limit, limit))

app = QApplication(sys.argv[:1])
window = build(app, [])
window.show()
session = window.session


def wait(until=lambda: True):
    """Let the window work until it rests and this holds."""
    end = time.monotonic() + 600
    while time.monotonic() < end:
        app.processEvents()
        time.sleep(0.01)
        if not session.busy and until():
            return
    raise TimeoutError


window.opening.open_path(path)
wait(lambda: "far table" in window.opening.pages and window.opening.pages["far table"].isVisible())
window.opening.pages["far table"].take.click()
wait(lambda: session.table.rows > 0)
for step in IDS:
    session.show_step(step)
    wait()
    print(step)
session.show_step("line")
wait()
stage = window.steps["line"]
stage.show_view("all-rows")
wait(lambda: stage.all_rows.outcome is not None)
print("all rows:", stage.reading().headline)
for part in ("reading", "figures", "table", "picture"):
    session.do(put_pin(session.study, part, "Pin it", tether=session.tether.id, step="line", view="all-rows"))
page = page_of(session.study, press_alone(), today=date(2026, 1, 2))
print(
    "chapters:",
    len(page.chapters),
    "blocks:",
    sum(len(one.blocks) for c in page.chapters for one in c.entries),
)
status = Path("/proc/self/status").read_text(encoding="utf-8").splitlines()
print("peak:", next(line.split()[1] for line in status if line.startswith("VmHWM")), "kB")
window.close()
