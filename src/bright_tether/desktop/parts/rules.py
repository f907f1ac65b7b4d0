"""Ground rules, always visible in the head and changed in place."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtWidgets import (
    QButtonGroup,
    QCheckBox,
    QFrame,
    QGridLayout,
    QHBoxLayout,
    QLineEdit,
    QPushButton,
    QSpinBox,
    QVBoxLayout,
    QWidget,
)

from bright_tether.desktop.parts.widgets import button, label
from bright_tether.desktop.session import Session
from bright_tether.pictures.sure import sure
from bright_tether.study import changes
from bright_tether.study.edits import Edit
from bright_tether.study.rules import GroundRules, words_from_text, words_in_text
from bright_tether.tables.cells import as_number
from bright_tether.words import digits as d
from bright_tether.words.readings.trail import trail_lines

_SIGNS = {"two-sided": "≠", "greater": ">", "less": "<"}
_DECIDERS = {"pearson": "r", "spearman": "ρ", "kendall": "τ", "slope": "slope"}


def rules_in_short(rules: GroundRules) -> str:
    """The rules in force in one line."""
    level = d.level_in_words(rules.level)
    return f"α {rules.alpha:g} · {level} · {_SIGNS[rules.alternative]} · {rules.digits} digits"


class RulesButton(QPushButton):
    """The rules in force; opens the panel in which they are changed."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.setObjectName("rulesButton")
        self.setAccessibleName("Ground rules")
        self._session = session
        self.panel: RulesPanel | None = None
        self.clicked.connect(self.open)
        session.study_changed.connect(self.show_rules)
        session.findings_changed.connect(self.show_rules)
        self.show_rules()

    def show_rules(self) -> None:
        """Write the rules in force on the button."""
        self.setText(f"Ground rules\n{rules_in_short(self._session.findings.rules)}")

    def open(self) -> None:
        """Open the panel under the button."""
        self.panel = RulesPanel(self._session, sure(self.window()))
        self.panel.adjustSize()
        corner = self.mapToGlobal(QPoint(self.width(), self.height() + 6))
        self.panel.move(corner - QPoint(self.panel.width(), 0))
        self.panel.show()
        self.panel.setFocus()


class RulesPanel(QFrame):
    """One line a rule: its value, and whether it is still the default."""

    def __init__(self, session: Session, parent: QWidget) -> None:
        super().__init__(parent, Qt.WindowType.Popup)
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.setObjectName("popup")
        self.setAccessibleName("Ground rules panel")
        self._session = session
        self._grid = QGridLayout()
        self._grid.setVerticalSpacing(8)
        self._origins: dict[str, QPushButton] = {}
        self._typed: tuple[str, float] | None = None
        outer = QVBoxLayout(self)
        outer.addWidget(label("Ground rules of this study", "strong"))
        self.own = QCheckBox("change them for this tether only")
        self.own.setAccessibleName("Change the rules for this tether only")
        outer.addWidget(self.own)
        outer.addLayout(self._grid)
        self.said = label("Every figure follows at once.", "quiet", wrap=True, name="what the rules say")
        self.said.setMinimumHeight(34)
        outer.addWidget(self.said)
        rules = session.findings.rules
        self.alpha = self._share("alpha", "Significance level α", f"{rules.alpha:g}", percent=False)
        self.level = self._share("level", "Interval level, %", f"{100 * rules.level:.10g}", percent=True)
        self._choice("alternative", "Alternative", _SIGNS, rules.alternative)
        self._choice("decide", "The test that decides", _DECIDERS, rules.decide)
        self.digits = QSpinBox()
        self.digits.setRange(2, 10)
        self.digits.setButtonSymbols(QSpinBox.ButtonSymbols.NoButtons)
        self.digits.setValue(rules.digits)
        self.digits.setAccessibleName("Digits shown")
        self.digits.valueChanged.connect(lambda value: self._put("digits", value))
        self._line("digits", "Digits shown", self.digits)
        self.words = QLineEdit(words_in_text(rules.words))
        self.words.setAccessibleName("Words for strength")
        self.words.setToolTip("Each word holds from its size on: 0 very weak · 0.2 weak · 0.4 moderate …")
        self.words.setMinimumWidth(330)
        self.words.setCursorPosition(0)
        self.words.textEdited.connect(self._typed_words)
        self._line("words", "Words for strength", self.words)
        lines = trail_lines(session.findings)
        self.trail = label("\n".join(lines), "quiet", wrap=True, name="changed after results were seen")
        if lines:
            outer.addWidget(label("Changed after results were seen", "section"))
            outer.addWidget(self.trail)
        self.show_origins()
        self.setFocusProxy(self.alpha)

    def show_origins(self) -> None:
        """Mark what still is the default; offer the way back where it is not."""
        rules = self._session.findings.rules
        for name, back in self._origins.items():
            origin = rules.origin_of(name)
            back.setEnabled(origin != "default")
            words = {"default": "default", "study": "back to default", "tether": "own: back to the study’s"}
            back.setText(words[origin])

    def _line(self, name: str, words: str, widget: QWidget) -> None:
        row = self._grid.rowCount()
        back = button("default", lambda: self._back(name), "link", f"{words}: back to default")
        self._origins[name] = back
        self._grid.addWidget(label(words), row, 0)
        self._grid.addWidget(widget, row, 1)
        self._grid.addWidget(back, row, 2)

    def _share(self, name: str, words: str, text: str, *, percent: bool) -> QLineEdit:
        field = QLineEdit(text)
        field.setFixedWidth(96)
        field.setAccessibleName(words)
        field.textEdited.connect(lambda typed: self._typed_share(name, typed, percent))
        field.editingFinished.connect(self._take)
        self._line(name, words, field)
        return field

    def _typed_share(self, name: str, typed: str, percent: bool) -> None:
        """Show what a share would change while it is typed; leaving the field makes it one change."""
        text = typed.strip()
        percent, text = percent or text.endswith("%"), text.removesuffix("%")
        value = as_number(text)
        share = None if value is None else float(f"{value / 100 if percent else value:.15g}")
        self._typed = None
        if share is None or not 0 < share < 1:
            self._session.preview(None)
            limits = "0 and 100 %" if percent else "0 and 1"
            self.said.setText(f"Type a number between {limits}; until then the last one stays in force.")
            return
        self._typed = name, share
        self._session.preview(self._edit(name, share))
        self.said.setText("Every figure follows at once.")
        self.show_origins()
        if name == "alpha" and self._session.findings.rules.origin_of("level") == "default":
            self._refill("level")

    def _take(self) -> None:
        """Make what was typed one change."""
        if self._typed is not None:
            (name, share), self._typed = self._typed, None
            self._put(name, share)

    def closeEvent(self, event: Any) -> None:
        """What was typed last counts too."""
        self._take()
        super().closeEvent(event)

    def _edit(self, name: str, value: object) -> Edit | None:
        study = self._session.history.study
        if self.own.isChecked():
            return changes.change_own_rule(study, self._session.tether, name, value)
        return changes.change_rule(study, name, value)

    def _typed_words(self, typed: str) -> None:
        words = words_from_text(typed)
        if words is None:
            self.said.setText(
                "Write sizes from 0 up, each with its word, set apart by a dot or comma: 0 weak, 0.5 strong."
            )
            return
        self._put("words", words)

    def _choice(self, name: str, words: str, options: dict[str, str], present: str) -> None:
        held, group = QWidget(), QButtonGroup(self)
        row = QHBoxLayout(held)
        row.setContentsMargins(0, 0, 0, 0)
        for value, sign in options.items():
            option = button(sign, self._chooser(name, value), name=f"{words}: {value}")
            option.setCheckable(True)
            option.setChecked(value == present)
            group.addButton(option)
            row.addWidget(option)
        self._line(name, words, held)

    def _chooser(self, name: str, value: str) -> Callable[[], None]:
        return lambda: self._put(name, value)

    def _back(self, name: str) -> None:
        """One step back: the tether's own rule goes first, then the study's."""
        self._take()
        self.own.setChecked(self._session.findings.rules.origin_of(name) == "tether")
        self._put(name, None)
        self._refill(name)

    def _put(self, name: str, value: object) -> None:
        session = self._session
        session.do(self._edit(name, value))
        self.said.setText("Every figure follows at once.")
        self.show_origins()
        if value is None:
            self._refill(name)
        elif name == "alpha" and session.findings.rules.origin_of("level") == "default":
            self._refill("level")

    def _refill(self, name: str) -> None:
        rules = session_rules = self._session.findings.rules
        if name == "alpha":
            self.alpha.setText(f"{rules.alpha:g}")
        if name in ("alpha", "level"):
            self.level.setText(f"{100 * session_rules.level:.10g}")
        if name == "words":
            self.words.setText(words_in_text(rules.words))
        if name == "digits":
            self.digits.blockSignals(True)
            self.digits.setValue(rules.digits)
            self.digits.blockSignals(False)
        for option in self.findChildren(QPushButton):
            if option.isCheckable() and option.accessibleName().endswith(f": {getattr(rules, name)}"):
                option.setChecked(True)
