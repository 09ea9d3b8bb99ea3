"""Tries many studies: `python -m tests.oracle FIRST COUNT [WITHOUT,…]`."""

import collections
import sys
import time
import traceback

from flowcore.checks import errors_of
from flowcore.problems import StudyError
from flowcore.study import read_study
from tests.oracle.compare import difference
from tests.oracle.studies import study

first, count = int(sys.argv[1]), int(sys.argv[2])
without = frozenset(sys.argv[3].split(",")) if len(sys.argv) > 3 else frozenset()
begin, bad, unsound = time.time(), [], collections.Counter()
for seed in range(first, first + count):
    try:
        read = read_study(study(seed, without))
        if errors := errors_of(read):
            unsound[str(errors[0])[:150]] += 1
            continue
        found = difference(read)
    except StudyError as error:
        unsound["read: " + str(error)[:150]] += 1
        continue
    except Exception:
        found = "CRASH " + traceback.format_exc()[-500:]
    if found is not None:
        bad.append(seed)
        if len(bad) <= 12:
            print(seed, found, flush=True)
print(len(bad), "of", count, "differ", bad[:20], f"{time.time() - begin:.1f} s")
print(unsound.most_common(5))
