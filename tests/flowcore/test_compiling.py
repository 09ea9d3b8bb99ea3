"""The engine is compiled in its own way, and where that cannot be, in Numba's; none of its indices is out of bounds."""

import os
import subprocess
import sys
from pathlib import Path

import pytest

CACHE = Path.home() / ".cache" / "flowcore"
ONE_INDEX = """
import sys
from dataclasses import dataclass

import numpy as np

from flowcore.kernel.compiling.bundle import Bundle
from flowcore.kernel.compiling.compiled import entry

@dataclass(frozen=True, eq=False)
class Some(Bundle):
    numbers: np.ndarray

@entry
def number(some, index):
    return some.numbers[index]

assert number(Some(np.arange(3.0)), int(sys.argv[1])) == 2.0
"""


def python(*arguments: str, **variables: str) -> subprocess.CompletedProcess[str]:
    """Run Python with some environment variables, and a cache of machine code for them alone."""
    mine = {name: value for name, value in os.environ.items() if name != "NUMBA_CACHE_DIR"}
    return subprocess.run(
        [sys.executable, *arguments], env=mine | variables, capture_output=True, text=True, check=False
    )


def test_numba_by_itself_compiles_the_engine_and_no_index_is_out_of_bounds() -> None:
    """The engine's quick tests, and a thousand studies of every construct; little is optimised, to compile faster."""
    quick = ["test_by_hand.py", "test_flow_by_hand.py", "of_every_construct.py"]
    done = python(
        *["-m", "pytest", "-q", "-p", "no:cacheprovider", "-p", "no:xdist", "-p", "no:django"],
        *[f"tests/flowcore/{name}" for name in quick],
        FLOWCORE_PLAIN_NUMBA="1",
        FLOWCORE_CHECKED="1",
        NUMBA_OPT="0",
        FLOWCORE_CACHE=str(CACHE / "unoptimised"),
    )
    assert done.returncode == 0, done.stdout[-3000:] + done.stderr[-2000:]


@pytest.mark.parametrize("plain", ["0", "1"])
@pytest.mark.parametrize(("index", "ending"), [(2, "it is there"), (-1, "a signal"), (3, "a signal")])
def test_an_index_out_of_bounds_ends_the_process(tmp_path: Path, index: int, ending: str, plain: str) -> None:
    script = tmp_path / "some.py"
    script.write_text(ONE_INDEX)
    how = {
        "FLOWCORE_CHECKED": "1",
        "FLOWCORE_PLAIN_NUMBA": plain,
        "FLOWCORE_CACHE": str(tmp_path),
        "PYTHONPATH": os.getcwd(),
    }
    done = python(str(script), str(index), **how)
    assert done.stderr == ""
    assert ("a signal" if done.returncode < 0 else "it is there") == ending


@pytest.mark.parametrize(("version", "is_told"), [("9.1.0", True), ("0.68.7", False)])
def test_a_version_of_numba_that_was_not_tried_is_told_with_what_to_do(version: str, is_told: bool) -> None:
    done = python("-c", f"import numba; numba.__version__ = '{version}'; import flowcore.kernel")
    assert done.returncode == 0
    assert (f"Numba {version} has not been tried with the engine" in done.stderr) == is_told
    assert ("FLOWCORE_PLAIN_NUMBA=1" in done.stderr) == is_told
