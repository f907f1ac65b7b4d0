"""``./tether bench [--only NAME] [--json FILE]``."""

from __future__ import annotations

import argparse
import json
import sys
from dataclasses import asdict
from pathlib import Path

from bench.measures import MEASURES


def main() -> int:
    """Measure and print; a ratio over its aim is marked, and does not fail the run."""
    parser = argparse.ArgumentParser(prog="tether bench")
    parser.add_argument("--only", choices=sorted(MEASURES))
    parser.add_argument("--json", type=Path)
    options = parser.parse_args()
    found = []
    for name, measure in MEASURES.items():
        if options.only in (None, name):
            got = measure()
            found.append(got)
            mark = "within" if got.ratio <= got.aim else "OVER"
            seconds = f"{got.ours_s:.4f} / {got.theirs_s:.4f} s"
            print(f"{name:<18} {got.ratio:8.2f}  aim {got.aim:<5g} {mark:<7} {seconds}")
            sys.stdout.flush()
    if options.json:
        options.json.write_text(json.dumps([asdict(ratio) for ratio in found], indent=1))
    return 0


if __name__ == "__main__":
    sys.exit(main())
