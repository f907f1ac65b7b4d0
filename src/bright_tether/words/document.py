"""What the head says of the study's file."""

from __future__ import annotations

from datetime import datetime
from typing import Literal

import msgspec

How = Literal["fresh", "opened", "taken up", "saving", "saved", "failed"]
_WORDS: dict[How, str] = {
    "fresh": "not saved yet",
    "opened": "opened",
    "taken up": "taken up again, not saved yet",
    "saving": "saving…",
    "failed": "not saved",
}


class SaveState(msgspec.Struct, frozen=True):
    """How the file stands to the study. when : it was saved."""

    how: How
    when: datetime | None = None


def saved_words(state: SaveState, unsaved: bool) -> str:
    """What stands beside the study's title. unsaved : whether there is work that the file does not hold."""
    if state.how == "saving":
        return _WORDS["saving"]
    if unsaved:
        return "not saved"
    return f"saved {state.when:%H:%M}" if state.when is not None else _WORDS[state.how]


def refused_deed(words: str) -> str:
    """Why the keys of an action did nothing."""
    return f"“{words.rstrip('…')}” has nothing to act on here."
