"""Both themes can be read: contrast by the formula of WCAG 2.2."""

import pytest

from bright_tether.theme.tokens import DARK, LIGHT, SHAPES


def luminance(colour):
    parts = [int(colour[at : at + 2], 16) / 255 for at in (1, 3, 5)]
    linear = [part / 12.92 if part <= 0.04045 else ((part + 0.055) / 1.055) ** 2.4 for part in parts]
    return 0.2126 * linear[0] + 0.7152 * linear[1] + 0.0722 * linear[2]


def contrast(one, two):
    light, dark = sorted((luminance(one), luminance(two)), reverse=True)
    return (light + 0.05) / (dark + 0.05)


TEXTS = [
    ("ink", "card"), ("ink", "paper"), ("muted", "card"), ("muted", "paper"), ("muted", "sunken"),
    ("tether_ink", "card"), ("tether_ink", "sunken"), ("on_soft", "tether_soft"), ("on_night", "night"),
    ("on_night_muted", "night"), ("attention", "card"),
]  # fmt: skip


@pytest.mark.parametrize("theme", [LIGHT, DARK], ids=lambda theme: theme.name)
@pytest.mark.parametrize(("ink", "ground"), TEXTS)
def test_texts_can_be_read(theme, ink, ground):
    assert contrast(getattr(theme, ink), getattr(theme, ground)) >= 4.5


@pytest.mark.parametrize("theme", [LIGHT, DARK], ids=lambda theme: theme.name)
def test_groups_differ_in_shape_and_stand_out(theme):
    assert len(set(SHAPES)) == len(set(theme.hues)) == 5
    assert all(contrast(hue, theme.card) >= 3 for hue in theme.hues)
    assert theme.tether not in theme.hues
