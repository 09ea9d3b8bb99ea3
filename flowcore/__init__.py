"""Urban Queue's computation: from a study document to figures, without any interface."""

__version__ = "0.1.0"

from flowcore.problems import Problem, StudyError
from flowcore.results.run import Results
from flowcore.simulate import simulate
from flowcore.study import StudyDocument, read_study

__all__ = ["Problem", "Results", "StudyDocument", "StudyError", "read_study", "simulate"]
