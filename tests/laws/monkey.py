"""A seeded monkey at the real window, and the laws that hold whatever it does.

A stream is a list of moves, each a few numbers, so that it can be played again and shortened. What the
numbers mean depends on what is on the screen at that moment, and on nothing else.
"""

import gc
import json
import os
import random
import sys
import threading
import time
import traceback
from contextlib import suppress
from pathlib import Path

from PyQt6 import sip
from PyQt6.QtCore import QPoint, Qt, QtMsgType, qInstallMessageHandler
from PyQt6.QtGui import QImage, QInputMethodEvent
from PyQt6.QtPrintSupport import QPrintDialog, QPrintPreviewDialog
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import (
    QAbstractButton,
    QAbstractSpinBox,
    QApplication,
    QComboBox,
    QDialog,
    QFileDialog,
    QLineEdit,
    QListWidget,
    QPlainTextEdit,
    QTableWidget,
    QWidget,
)

from bright_tether.desktop.start import build
from bright_tether.steps.catalogue import IDS
from tests.hand import let_go
from tests.laws.figures import figures_differ
from tests.study.members import members, packed

#: A move that holds the interface up for longer than this, in seconds, is a fault.
FREEZE = 2.0
TEXTS = (
    "1", "2.5", "-3", "1e308", "-1.7e308", "1e-320", "1e999", "inf", "nan", "NA", "", "   ", "0", "3,5",
    "1_000", "9.96921e+36", "abc", "é\u202e", "\x01\x02", "half \ud800", "=1+1", "0.05", "5%", "100",
    "1 2 3", "80 99", "0.9999999999999999", "a, b", "x" * 300, "log10(x)", '"a" * 2', "1/0", "−999",
    "12:30", "2024-02-30", "'", '"', "{}", "1e-300", "50", "1e20", "3.4e38", "7 8", "-5,3",
)  # fmt: skip
BLOCKS = (
    "1\t2\n3\t4\n5\t7\n", "x\ty\n1\t1\n2\t3\n4\t2\n", "a,b\n1,2\n", "1e308\t1\n-1e308\t2\n0\t3\n", "9",
    "\t\n\t\n", "1\t2\t3\t4\t5\t6\t7\n", "\x00\t\x01\n2\t3\n", "NA\t1\n2\tNA\n", "q\n" * 30,
)  # fmt: skip
_NONE, _SHIFT = Qt.KeyboardModifier.NoModifier, Qt.KeyboardModifier.ShiftModifier
_CONTROL = Qt.KeyboardModifier.ControlModifier
_PLAIN = (
    "Up",
    "Down",
    "Left",
    "Right",
    "Return",
    "Tab",
    "Space",
    "Escape",
    "Delete",
    "Home",
    "End",
    "PageDown",
)
KEYS = tuple((getattr(Qt.Key, f"Key_{name}"), held) for name in (*_PLAIN, "F2") for held in (_NONE, _SHIFT))
KEYS += tuple(
    (getattr(Qt.Key, f"Key_{letter}"), held)
    for letter in "ZSNDFGHKLMEPRT0W"
    for held in (_CONTROL, _CONTROL | _SHIFT)
)
#: How often each kind of move is made.
KINDS = (
    ["step"] * 10 + ["button"] * 22 + ["deed"] * 12 + ["field"] * 12 + ["combo"] * 10 + ["spin"] * 5
    + ["key"] * 12 + ["drag"] * 8 + ["click"] * 6 + ["cell"] * 8 + ["paste"] * 3 + ["list"] * 4 + ["undo"] * 6
    + ["redo"] * 3     + ["file"] * 3 + ["drop"] * 2 + ["words"] * 2 + ["wheel"] * 2 + ["wait"] * 2
)  # fmt: skip


class Fault(Exception):
    """A law that does not hold."""


def stream(seed, length):
    """A stream of moves."""
    draw = random.Random(seed)
    return [(draw.choice(KINDS), draw.randrange(1 << 20), draw.randrange(1 << 20), draw.randrange(1 << 20))
            for _ in range(length)]  # fmt: skip


def files(folder):
    """Files that the monkey may open: sound, odd and hostile ones."""
    folder = Path(folder)
    folder.mkdir(parents=True, exist_ok=True)
    rows = "\n".join(f"{at},{at * 1.7 + (at * 7919 % 13) / 5:.3f},{'AB'[at % 2]},s{at}" for at in range(40))
    texts = {
        "plain.csv": "x (m),y (kg),group,site\n" + rows + "\n",
        "three.csv": "a,b\n1,2\n2,4\n3,5\n",
        "fill.csv": "a,b\n1,2\n2,9.96921e+36\n3,5\n1e20,7\n5,9\n6,1\n7,2\n8,4\n9,5\n",
        "huge.csv": "a,b,g\n" + "".join(f"{at}e307,{at * at % 5}e-300,{'uv'[at % 2]}\n" for at in range(12)),
        "flat.csv": "a,b\n3,1\n3,2\n3,3\n3,4\n",
        "ties.csv": "a,b,g\n" + "".join(f"{at % 2},{at % 3},{'uvw'[at % 3]}\n" for at in range(14)),
        "control.csv": "a\x01b,c\x07d,e\n1,2,p\x02q\n2,3,r\n3,5,s\n4,4,t\n",
        "words.csv": "a,b\nx,y\nz,w\n",
        "ragged.csv": "a,b\n1,2,3\n4\n",
        "exact.csv": "a,b\n" + "".join(f"{at},{2 * at + 1}\n" for at in range(9)),
        "bad.tether": "PK nothing",
        "month 1.csv": "when,level (m),g\n"
        + "".join(f"0{at}/03/2021,{at * 1.5},{'uv'[at % 2]}\n" for at in range(1, 9)),
        "month 2.csv": "when,level (cm),g\n"
        + "".join(f"{at}/04/2021,{at * 2},{'uv'[at % 2]}\n" for at in range(11, 29)),
        "times.csv": "at,y,w\n"
        + "".join(f"2021-03-0{1 + at // 9} {at % 9:02}:00,{at * at % 11},{at}\n" for at in range(40)),
        "sites.csv": "site,y,x\n" + "".join(f"S{at % 5},{at * 3 % 17},{at + at % 4}\n" for at in range(30)),
        "list.csv": "site,height (m)\nS0,10\nS1,20\nS1,25\ns2,30\nS9,90\n",
        "picture.svg": "<svg xmlns='http://www.w3.org/2000/svg'><image href='file:///etc/passwd'/></svg>",
    }
    for name, text in texts.items():
        (folder / name).write_text(text)
    (folder / "svg.png").write_text(texts["picture.svg"])
    image = QImage(60, 40, QImage.Format.Format_RGB32)
    image.fill(0xFFFFFF)
    image.save(str(folder / "plot.png"))
    return sorted(folder.iterdir())


def typed(widget, text):
    """Type any text at all, as an input method does."""
    event = QInputMethodEvent()
    event.setCommitString(text)
    QApplication.sendEvent(widget, event)


class Monkey:
    """One window, what is done to it, and what has gone wrong."""

    def __init__(self, folder, *, demo=True):
        self.folder = Path(folder)
        os.environ["XDG_STATE_HOME"] = str(self.folder / "state")
        self.files = files(self.folder / "files")
        self.faults = []
        self.trace = []
        self.slowest = (0.0, "")
        self._answers = []
        self._patch()
        app = QApplication.instance() or QApplication(["monkey"])
        self.window = build(app, ["--demo"] if demo else [])
        self.window.show()
        app.processEvents()
        self._base = self._remember()
        take_over = self.window.session.take_over

        def remembered(history, *arguments, **named):
            take_over(history, *arguments, **named)
            self._base = self._remember()

        self.window.session.take_over = remembered

    def _remember(self):
        history = self.window.session.history
        while history.done:
            history = history.back()
        return members(history.study)

    def _patch(self):
        """Dialogs of the desktop answer at once; errors in a slot and warnings of Qt are faults."""
        out = str(self.folder / "out")

        def answer(*arguments, **named):
            self._answers.append(1)
            ending = (
                ".csv",
                ".tether",
                ".html",
                ".pdf",
                ".odt",
                ".md",
                ".xlsx",
                ".png",
                ".svg",
                "",
                ".nothing",
            )
            return (
                out + str(len(self._answers) % 5) + ending[len(self._answers) % len(ending)],
                "HTML (*.html)",
            )

        def opened(*arguments, **named):
            self._answers.append(1)
            return (str(self.files[len(self._answers) % len(self.files)]), "")

        def several(*arguments, **named):
            name, kind = opened()
            return ([name, *([opened()[0]] if len(self._answers) % 3 else [])], kind)

        answers = {(QFileDialog, "getSaveFileName"): answer, (QFileDialog, "getOpenFileName"): opened,
                   (QFileDialog, "getOpenFileNames"): several,
                   (QFileDialog, "getExistingDirectory"): lambda *_, **__: str(self.folder / "files")}  # fmt: skip
        answers |= {(kind, "exec"): lambda dialog: 0 for kind in (QDialog, QPrintDialog, QPrintPreviewDialog)}
        self._was = [(kind, name, getattr(kind, name)) for kind, name in answers]
        for (kind, name), put in answers.items():
            setattr(kind, name, put)
        self._hook = sys.excepthook

        def caught(kind, error, trace):
            self.trace = traceback.format_exception(kind, error, trace)
            told = traceback.extract_tb(trace)
            where = next((f"{Path(one.filename).name}:{one.lineno}" for one in reversed(told)
                          if "bright_tether" in one.filename), "?")  # fmt: skip
            self.faults.append(f"{kind.__name__} at {where}: {error}")

        sys.excepthook = caught

        def message(kind, context, text):
            if kind == QtMsgType.QtFatalMsg:
                sys.stderr.write(f"fatal: {text}\n")
                traceback.print_stack()
            if kind != QtMsgType.QtDebugMsg and "This plugin does not support" not in text:
                self.faults.append(f"Qt: {text}")

        self._handler = qInstallMessageHandler(message)

    def close(self):
        """Close the window; what is left of it is a fault."""
        window = self.window
        window._leaving = True
        with suppress(Exception):
            QApplication.processEvents()
        window.close()
        there = [one for one in QApplication.topLevelWidgets() if one.isVisible()]
        left = [one.accessibleName() or type(one).__name__ for one in there]
        for one in there:
            one.close()
        let_go(window)
        QApplication.processEvents()
        for kind, name, was in self._was:
            setattr(kind, name, was)
        sys.excepthook = self._hook
        qInstallMessageHandler(self._handler)
        gc.collect()
        if left:
            self.faults.append(f"left open: {left}")
        threads = [one.name for one in threading.enumerate() if one is not threading.main_thread()]
        if threads:
            self.faults.append(f"threads left: {threads}")

    def play(self, moves):
        """Make these moves. Raises Fault at the first that goes wrong."""
        for at, move in enumerate(moves):
            begin, used = time.monotonic(), time.thread_time()
            try:
                getattr(self, f"_{move[0]}")(*move[1:])
                QApplication.processEvents()
            except Exception as error:
                self.trace = traceback.format_exception(error)
                told = traceback.extract_tb(error.__traceback__)
                where = next((f"{Path(one.filename).name}:{one.lineno}" for one in reversed(told)
                              if "/bright_tether/" in one.filename), "the monkey itself")  # fmt: skip
                self.faults.append(f"{type(error).__name__} at {where}: {error}")
            took, used = time.monotonic() - begin, time.thread_time() - used
            if used > self.slowest[0]:
                self.slowest = (used, f"{move[0]} in {self.window.session.step}")
            if used > FREEZE or took > 4 * FREEZE:
                self.faults.append(f"freeze of {took:.1f} s: {move[0]} in {self.window.session.step}")
            if self.faults:
                raise Fault(f"move {at} {move}: {self.faults[0]}")

    def laws(self):
        """What holds after any stream. Raises Fault."""
        window, session = self.window, self.window.session
        for popup in self._popups():
            popup.close()
        session.settle()
        session.preview(None)
        self._rest()
        study, history = session.history.study, session.history
        last = members(study)
        back = history
        while back.done:
            back = back.back()
        if members(back.study) != self._base:
            raise Fault("undo all the way is not the study of the start")
        while back.undone:
            back = back.forward()
        ahead = history
        while ahead.undone:
            ahead = ahead.forward()
        if members(back.study) != members(ahead.study):
            raise Fault("redo all the way is not the end")
        from bright_tether.study.journal import recover
        from bright_tether.study.package import read_package

        if members(read_package(packed(study), "s")) != last:
            raise Fault("saving and opening is not the identity")
        window.document.wait()
        journal = window.document._ledger._journal
        if journal is not None and not window.document._ledger.behind:
            made = recover(journal.folder)
            if made.lost or members(made.history.study) != last:
                raise Fault("the journal does not recover the study")
        elif window.document.unsaved and window.document._ledger.behind:
            raise Fault("unsaved work stands in memory only")
        for tether in (session.tether, study.tethers[-1]):
            told = figures_differ(study, tether, self.folder)
            if told:
                raise Fault(f"window and command differ: {told}")
        if self.faults:
            raise Fault(self.faults[0])

    def _rest(self):
        for _ in range(200):
            QApplication.processEvents()
            busy = self.window.session.busy
            if not busy:
                return
            time.sleep(0.01)

    # what the moves mean

    def _popups(self):
        return [one for one in QApplication.topLevelWidgets() if one is not self.window and one.isVisible()]

    def _place(self):
        """Where a hand can reach: the topmost popup, or the window."""
        popups = self._popups()
        return popups[-1] if popups else self.window

    def _some(self, kind, at):
        place = self._place()
        found = [one for one in place.findChildren(kind) if one.isVisible() and one.isEnabled()]
        return found[at % len(found)] if found else None

    def _step(self, a, b, c):
        for popup in self._popups():
            popup.close()
        self.window.session.show_step(IDS[a % len(IDS)])

    def _button(self, a, b, c):
        found = self._some(QAbstractButton, a)
        if found is not None:
            QTest.mouseClick(found, Qt.MouseButton.LeftButton)

    def _deed(self, a, b, c):
        deeds = list(self.window.actions_list.found(""))
        deed = deeds[a % len(deeds)]
        deed.run()

    def _field(self, a, b, c):
        found = self._some(QLineEdit, a)
        if found is not None and not isinstance(found.parent(), QAbstractSpinBox):
            found.setFocus()
            found.selectAll()
            typed(found, TEXTS[b % len(TEXTS)])
            if c % 4 and not sip.isdeleted(found):
                QTest.keyClick(found, Qt.Key.Key_Return)

    def _words(self, a, b, c):
        found = self._some(QPlainTextEdit, a)
        if found is not None:
            found.setFocus()
            typed(found, TEXTS[b % len(TEXTS)])

    def _combo(self, a, b, c):
        found = self._some(QComboBox, a)
        if found is not None and found.count():
            found.setCurrentIndex(b % found.count())
            found.activated.emit(found.currentIndex())

    def _spin(self, a, b, c):
        found = self._some(QAbstractSpinBox, a)
        if found is not None:
            found.setFocus()
            found.selectAll()
            QTest.keyClicks(found, ("3", "1", "0", "99999999", "-5", "17", "250")[b % 7])
            QTest.keyClick(found, Qt.Key.Key_Return)

    def _key(self, a, b, c):
        key, held = KEYS[a % len(KEYS)]
        target = QApplication.focusWidget() or self._place()
        QTest.keyClick(target, key, held)

    def _pictures(self):
        kinds = ("Picture", "Ruler", "Strip", "Plate", "Planes", "Scale")
        return [one for one in self._place().findChildren(QWidget)
                if one.isVisible() and type(one).__name__.endswith(kinds)]  # fmt: skip

    def _spot(self, widget, a, b):
        return QPoint(a % max(widget.width(), 1), b % max(widget.height(), 1))

    def _drag(self, a, b, c):
        found = self._pictures()
        if not found:
            return
        picture = found[a % len(found)]
        target = picture.viewport() if hasattr(picture, "viewport") else picture
        start, end = self._spot(target, b, c), self._spot(target, c, a)
        button = Qt.MouseButton.RightButton if c % 9 == 0 else Qt.MouseButton.LeftButton
        QTest.mousePress(target, button, Qt.KeyboardModifier.NoModifier, start)
        for part in (0.3, 0.6, 1.0):
            if sip.isdeleted(target):
                return
            QTest.mouseMove(target, start + (end - start) * part)
            QApplication.processEvents()
        if b % 11 and not sip.isdeleted(target):
            QTest.mouseRelease(target, button, Qt.KeyboardModifier.NoModifier, end)

    def _click(self, a, b, c):
        found = self._pictures() if a % 3 else self._place().findChildren(QWidget)
        found = [one for one in found if one.isVisible()]
        if found:
            target = found[b % len(found)]
            target = target.viewport() if hasattr(target, "viewport") else target
            QTest.mouseClick(
                target, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, self._spot(target, c, a)
            )
            if c % 5 == 0 and not sip.isdeleted(target):
                QTest.mouseDClick(target, Qt.MouseButton.LeftButton)

    def _wheel(self, a, b, c):
        found = self._pictures()
        if found:
            picture = found[a % len(found)]
            if hasattr(picture, "main"):
                picture.main.getViewBox().scaleBy(((0.01, 100.0)[b % 2], (0.01, 100.0)[c % 2]))

    def _grid(self):
        if self._popups() or self.window.session.step != "gather":
            self._step(0, 0, 0)
        return self.window.step("gather").grid

    def _cell(self, a, b, c):
        grid = self._grid()
        if not grid.isVisible():
            return
        model = grid.model()
        grid.setCurrentIndex(model.index(a % min(model.rowCount(), 45), b % model.columnCount()))
        grid.setFocus()
        if c % 6 == 0:
            grid.clear_block()
        else:
            QTest.keyClicks(grid, "1")
            editor = QApplication.focusWidget()
            if isinstance(editor, QLineEdit):
                editor.selectAll()
                typed(editor, TEXTS[c % len(TEXTS)])
                QTest.keyClick(editor, Qt.Key.Key_Return)

    def _paste(self, a, b, c):
        grid = self._grid()
        QApplication.clipboard().setText(BLOCKS[a % len(BLOCKS)])
        model = grid.model()
        grid.setCurrentIndex(model.index(b % min(model.rowCount(), 45), c % model.columnCount()))
        grid.paste_block()

    def _list(self, a, b, c):
        found = self._some(QListWidget, a) if c % 2 else self._some(QTableWidget, a)
        if isinstance(found, QListWidget) and found.count():
            found.setCurrentRow(b % found.count())
            found.itemClicked.emit(found.currentItem())
        elif isinstance(found, QTableWidget) and found.rowCount() and found.columnCount():
            found.setCurrentCell(b % found.rowCount(), c % found.columnCount())

    def _undo(self, a, b, c):
        for _ in range(a % 3 + 1):
            self.window.session.undo()

    def _redo(self, a, b, c):
        self.window.session.redo()

    def _file(self, a, b, c):
        path = self.files[a % len(self.files)]
        if c % 7 == 0:
            self.window.opening.open_paths(
                [path, self.files[b % len(self.files)], self.files[(a + b) % len(self.files)]]
            )
        elif c % 7 == 1 and path.suffix == ".csv" and path.exists():
            lines = path.read_text().splitlines(keepends=True)
            path.write_text(
                "".join([lines[0], *lines[2:], *lines[1 + b % 3 : 3]])
            )  # a row less, or another order
            self.window.session.reread()
        elif c % 3:
            self.window.session.open_file(path)
        else:
            self.window.opening.open_path(path)

    def _drop(self, a, b, c):
        window = self.window
        match a % 4:
            case 0:
                window.document.save(self.folder / f"study{b % 3}.tether")
            case 1:
                window.document.save()
            case 2:
                found = window.document.unfinished()
                if found:
                    window.document.take_up(found[b % len(found)][0])
            case 3:
                path = self.folder / f"study{b % 3}.tether"
                if path.exists():
                    window.opening.open_path(path)

    def _wait(self, a, b, c):
        QTest.qWait(a % 60)


def run(seed, length, folder):
    """Play a stream; None where every law holds, else the fault. The slowest move beside it."""
    monkey = Monkey(folder, demo=seed % 5 == 0)
    fault = None
    try:
        monkey.play(stream(seed, length) if not isinstance(length, list) else length)
        monkey.laws()
    except Fault as found:
        fault = str(found)
    except Exception as error:
        fault = "laws: " + "".join(traceback.format_exception(error)[-2:])
    finally:
        monkey.close()
    if fault is None and monkey.faults:
        fault = monkey.faults[0]
    return fault, monkey.slowest


def shortened(seed, moves, folder, fault, seconds=120):
    """The shortest stream found that ends in the same fault."""
    kind = _kind(fault)
    until, part, turn = time.monotonic() + seconds, max(len(moves) // 2, 1), 0
    while part >= 1 and time.monotonic() < until:
        at, cut = 0, False
        while at < len(moves) and time.monotonic() < until:
            shorter = moves[:at] + moves[at + part :]
            turn += 1
            found, _ = run(seed, shorter, Path(folder) / f"again{turn}")
            if found is not None and _kind(found) == kind:
                moves, cut = shorter, True
            else:
                at += part
        part = part // 2 if not cut or part > len(moves) else part
    return moves


def _kind(fault):
    return fault.split(": ", 1)[-1].split(":")[0] if fault else ""


def told(seed, length, folder, *, shorten=True):
    """One stream in full, for a process of its own: a line of JSON."""
    Path(folder).mkdir(parents=True, exist_ok=True)
    fault, slowest = run(seed, length, folder)
    line = {"seed": seed, "fault": fault, "slowest": [round(slowest[0], 2), slowest[1]]}
    if fault and shorten:
        line["moves"] = shortened(seed, stream(seed, length), folder, fault)
    return json.dumps(line)


def take_for_long():
    """Take every table for one that is worked on beside the window, and changed in turns."""
    for name, module in tuple(sys.modules.items()):
        if name.startswith("bright_tether") and hasattr(module, "IN_PLACE_ROWS"):
            module.IN_PLACE_ROWS = 10


if __name__ == "__main__":
    import faulthandler
    import tempfile

    first, count, size = (int(one) for one in sys.argv[1:4])
    if "long" in sys.argv:
        take_for_long()
    for number in range(first, first + count):
        with tempfile.TemporaryDirectory() as place:
            faulthandler.dump_traceback_later(600, exit=True)
            print(told(number, size, place, shorten="whole" not in sys.argv), flush=True)
            faulthandler.cancel_dump_traceback_later()
