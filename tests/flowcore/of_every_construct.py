"""A thousand studies of every construct are simulated, some of which stand still; run where every index is checked."""

from flowcore.problems import StudyError
from flowcore.simulate import simulate
from flowcore.study import read_study
from tests.oracle.studies import study


def test_a_thousand_studies_of_every_construct() -> None:
    for seed in range(1000):
        try:
            simulate(read_study(study(seed)))
        except StudyError as error:
            if "stands still" not in str(error):
                raise
