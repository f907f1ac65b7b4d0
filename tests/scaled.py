"""Every step at another scale of the screen: ``python -m tests.scaled``, with QT_SCALE_FACTOR set outside."""

import sys
from pathlib import Path

from PyQt6.QtWidgets import QApplication

from bright_tether.desktop.start import build
from bright_tether.steps.catalogue import IDS

sys.path.insert(0, str(Path(__file__).parent))
from hand import let_go
from room import check_room, contrasts, settled


def main() -> int:
    app = QApplication(sys.argv[:1])
    window = build(app, ["--demo"])
    window.show()
    for size in ((1024, 700), (1280, 800)):
        for step in IDS:
            window.session.show_step(step)
            settled(window, size)
            if step != "compare":  # it begins with what can be compared, without a picture
                check_room(window, step)
            assert min(contrasts(window).values()) >= 4.5
    image = window.grab()
    print(f"{len(IDS)} steps at {image.devicePixelRatio():g}: {image.width()} x {image.height()}")
    let_go(window)
    return 0


if __name__ == "__main__":
    sys.exit(main())
