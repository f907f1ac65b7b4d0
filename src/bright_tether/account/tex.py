"""Text as LaTeX takes it: its own signs escaped, letters and signs beyond its fonts as commands."""

from __future__ import annotations

import re
import unicodedata

_SIGNS = {
    "\\": r"\textbackslash{}", "&": r"\&", "%": r"\%", "$": r"\$", "#": r"\#", "_": r"\_", "{": r"\{", "}": r"\}",
    "[": "{[}", "*": "{*}",  # behind the end of a row they would be an option of it
    "~": r"\textasciitilde{}", "^": r"\textasciicircum{}", "<": r"$<$", ">": r"$>$", "|": r"$|$",
    "−": "$-$", "±": r"$\pm$", "·": r"$\cdot$", "×": r"$\times$", "÷": r"$\div$", "√": r"$\surd$", "≈": r"$\approx$",
    "≤": r"$\le$", "≥": r"$\ge$", "≠": r"$\ne$", "⟶": r"$\longrightarrow$", "→": r"$\rightarrow$", "∞": r"$\infty$",
    "⌊": r"$\lfloor$", "⌋": r"$\rfloor$", "′": "$'$", "…": r"\ldots{}", "\u202f": r"\,", "\u00a0": "~",
    "°": r"\textdegree{}", "“": "``", "”": "''", "’": "'", "—": "---", "–": "--",
    "●": r"$\bullet$", "▲": r"$\bigtriangleup$", "▼": r"$\bigtriangledown$", "◆": r"$\diamond$",
    "■": r"\rule{1ex}{1ex}", "★": r"$\star$",
}  # fmt: skip
_GREEK = re.compile(r"GREEK (SMALL|CAPITAL) LETTER ([\w ]+)$")
#: Greek letters that look like Latin ones have no command.
_LATIN = {"ALPHA": "A", "BETA": "B", "EPSILON": "E", "ZETA": "Z", "ETA": "H", "IOTA": "I", "KAPPA": "K", "MU": "M",
          "NU": "N", "OMICRON": "O", "RHO": "P", "TAU": "T", "UPSILON": "Y", "CHI": "X"}  # fmt: skip
#: Letters that carry a mark in a character of its own, by the command for it.
_ACCENTS = {"\u0304": "=", "\u0302": "^", "\u0303": "~", "\u0308": '"', "\u0301": "'", "\u0300": "`"}
_ACCENTED = re.compile(rf"([A-Za-z])([{''.join(_ACCENTS)}])")
_RAISED, _LOWERED, _PARTED = "<super>", "<sub>", "<fraction>"


def tex(text: str) -> str:
    """A text as it may stand in a document."""
    parts, at = [], 0
    text = unicodedata.normalize("NFC", text)
    for match in _ACCENTED.finditer(text):
        parts += [*map(_letter, text[at : match.start()]), rf"\{_ACCENTS[match[2]]}{{{match[1]}}}"]
        at = match.end()
    return "".join([*parts, *map(_letter, text[at:])])


def needs_own_fonts(text: str) -> bool:
    """Whether there are letters in it that only an engine with the fonts of the system can set."""
    return any(ord(one) > 0x17F for one in tex(text)) or any(one in "ĦħĸĿŀŉŦŧſ" for one in text)


def _letter(letter: str) -> str:
    if letter < "\x7f" or letter in _SIGNS:
        return _SIGNS.get(letter, letter if letter >= " " else "")
    if unicodedata.category(letter).startswith("C"):
        return ""
    if greek := _GREEK.match(unicodedata.name(letter, "")):
        size, name = greek.groups()
        if size == "CAPITAL" and name in _LATIN:
            return f"$\\mathrm{{{_LATIN[name]}}}$"
        if name == "OMICRON":
            return "$o$"
        name = {"FINAL SIGMA": "VARSIGMA", "LAMDA": "LAMBDA"}.get(name, name)
        return f"$\\{name.lower() if size == 'SMALL' else name.capitalize()}$"
    kind, *codes = unicodedata.decomposition(letter).split() or [""]
    plain = "".join(chr(int(code, 16)) for code in codes) if kind in (_RAISED, _LOWERED, _PARTED) else ""
    if kind == _PARTED:
        above, _, below = plain.partition("\u2044")
        return f"$^{{{above}}}\\!/\\!_{{{below}}}$"
    sign = {_RAISED: "^", _LOWERED: "_"}.get(kind)
    return f"${sign}{{{plain.replace('−', '-')}}}$" if sign else letter
