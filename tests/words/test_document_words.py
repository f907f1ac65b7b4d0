"""What the head says of the study's file, in every state that it can be in."""

from datetime import datetime

import pytest

from bright_tether.words.document import SaveState, saved_words


@pytest.mark.parametrize(
    ("how", "unsaved", "said"),
    [
        ("fresh", False, "not saved yet"),
        ("fresh", True, "not saved"),
        ("opened", False, "opened"),
        ("taken up", False, "taken up again, not saved yet"),
        ("taken up", True, "not saved"),
        ("saving", True, "saving…"),
        ("saving", False, "saving…"),
        ("failed", True, "not saved"),
    ],
)
def test_every_state_is_said(how, unsaved, said):
    assert saved_words(SaveState(how), unsaved) == said


def test_a_save_is_said_with_its_time_until_something_changes():
    state = SaveState("saved", datetime(2026, 11, 25, 9, 5))
    assert saved_words(state, False) == "saved 09:05"
    assert saved_words(state, True) == "not saved"
