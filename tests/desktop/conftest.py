"""The hand is imported by name from this folder."""

import sys
from pathlib import Path

import pyqtgraph

sys.path.insert(0, str(Path(__file__).parent))

# The hand of a test moves faster than the plots listen to.
pyqtgraph.setConfigOption("mouseRateLimit", -1)
