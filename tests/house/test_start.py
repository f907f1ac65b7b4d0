"""What a start may not bring along: it would be waited for, and nobody asked for it."""

import subprocess
import sys

import pytest

LISTS = "numpy.__all__, numpy.__numpy_submodules__"


@pytest.mark.parametrize(("module", "unwanted"), [
    ("bright_tether.core.special", ("numpy.testing", "numpy.f2py", "numpy.ma", "scipy.stats", "scipy.special")),
    ("bright_tether.live.findings", ("numpy.testing", "scipy.stats", "scipy.optimize", "pyarrow", "duckdb", "PyQt6")),
    ("bright_tether.desktop.start", ("scipy.stats", "scipy.optimize", "pyarrow", "duckdb", "distributed", "jinja2",
                                     "docx", "odf", "weasyprint")),
])  # fmt: skip
def test_what_is_heavy_and_not_asked_for_is_not_loaded(module, unwanted):
    code = f"import numpy, sys; before = {LISTS}; import {module}; assert ({LISTS}) == before; print(*sys.modules)"
    loaded = subprocess.run(
        [sys.executable, "-c", code], check=True, capture_output=True, text=True
    ).stdout.split()
    assert module in loaded
    assert not {name for name in unwanted if name in loaded}


def test_arrow_does_not_bring_pandas_along_and_gets_on_with_it_later():
    pytest.importorskip("pandas")
    code = (
        "import sys, numpy; from bright_tether.tables.arrow import arrow; found = arrow().array(numpy.ones(3)); "
        "assert found.to_numpy().sum() == 3; assert 'pandas' not in sys.modules; import pandas; "
        "assert arrow().table({'x': pandas.Series([1.0, None])}).to_pandas()['x'].count() == 1"
    )
    subprocess.run([sys.executable, "-c", code], check=True)


def test_products_keep_to_the_core_of_the_thread_that_asks_for_them():
    code = (
        "import os, sys; from bright_tether.launcher import main; sys.argv[1:] = ['--version']\n"
        "try: main()\nexcept SystemExit: pass\nprint(os.environ['OPENBLAS_NUM_THREADS'])"
    )
    told = subprocess.run([sys.executable, "-c", code], check=True, capture_output=True, text=True).stdout
    assert told.split()[-1] == "1"


@pytest.mark.parametrize("first", ["bright_tether.core.special", "scipy.special"])
def test_special_functions_are_those_of_the_package_whichever_is_loaded_first(first):
    code = (
        f"import {first}; from bright_tether.core.special import special as ours; from scipy import special, stats; "
        "assert all(getattr(ours, name) is getattr(special, name) for name in ('ndtr', 'stdtrit', 'nctdtr', 'fdtri')); "
        "assert ours.ndtri(stats.norm.cdf(0.5)) - 0.5 < 1e-15"
    )
    subprocess.run([sys.executable, "-c", code], check=True)
