"""Tables as LaTeX: what every engine can set, whatever stands in them."""

import pytest

from bright_tether.account.outward import Number, Outward
from bright_tether.account.outward_text import latex
from bright_tether.account.tex import needs_own_fonts, tex


@pytest.mark.parametrize(("text", "expected"), [
    (r"50 % & $5 #1_a {b} \x ~ ^", r"50 \% \& \$5 \#1\_a \{b\} \textbackslash{}x \textasciitilde{} \textasciicircum{}"),
    ("[x] * y", "{[}x] {*} y"),  # behind the end of a row these would be an option of it
    ("−1 ± 2·10⁻³", r"$-$1 $\pm$ 2$\cdot$10$^{-}$$^{3}$"),
    ("χ², ρ ≥ Σ", r"$\chi$$^{2}$, $\rho$ $\ge$ $\Sigma$"),
    ("Α ς λ ο", r"$\mathrm{A}$ $\varsigma$ $\lambda$ $o$"),
    ("x̄ and ē", r"\={x} and ē"),
    ("t₀ ⅓", r"t$_{0}$ $^{1}\!/\!_{3}$"),
    ("● ▲ ■", r"$\bullet$ $\bigtriangleup$ \rule{1ex}{1ex}"),
    ("bell\x07\x00 é", "bell é"),
])  # fmt: skip
def test_a_text_is_set_as_it_reads(text, expected):
    assert tex(text) == expected


def test_what_only_fonts_of_the_system_can_set_is_told():
    assert needs_own_fonts("עומק")
    assert needs_own_fonts("Ħ")
    assert not needs_own_fonts("turbidité, ρ ≥ ±0.3·10⁻³ …")
    head, cells = ("name", "value"), (("עומק", Number(-1.5, "-1.5")),)
    assert "LuaLaTeX" in latex([Outward("Depths", head, cells)]).splitlines()[0]
    plain = latex([Outward("Depths", head, (("[a]", Number(-1.5, "-1.5")),))])
    assert plain.splitlines()[0] == r"% needs \usepackage{booktabs}"
    assert r"    {[}a] & $-1.5$ \\" in plain.splitlines()
