"""How a figure's interval narrowed with more and more replications."""

from pydantic import BaseModel

from flowcore.results.catalogue import Title
from flowcore.results.run import Results
from flowcore.results.statistics import Estimate

LOOKS = 20


class Narrowed(BaseModel):
    """A figure with ever more of the replications, at most so many times, at last with all of them."""

    address: str
    title: Title
    estimates: list[Estimate]


def narrowing(results: Results, address: str) -> list[Estimate]:
    """Return a figure of the first replications, of ever more of them; KeyError names an address that is not there."""
    many = len(results.replications)
    looks = sorted({max(1, round(many * look / LOOKS)) for look in range(1, LOOKS + 1)}) if many else []
    return [Results(results.replications[:upto], results.confidence).figure(address) for upto in looks]
