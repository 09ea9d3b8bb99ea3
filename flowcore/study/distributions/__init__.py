"""Distributions: a bare value is a constant, an object names its shape; one module a shape.

Every shape exists for times (`"3 min"`), for plain numbers, and, where it may lie below zero, for
offsets from a planned time.
"""

from typing import Annotated, Any

from pydantic import Discriminator, Tag
from typing_extensions import TypeAliasType

from flowcore.study.distributions.beta import Beta
from flowcore.study.distributions.discrete import Discrete
from flowcore.study.distributions.empirical import Empirical
from flowcore.study.distributions.erlang import Erlang
from flowcore.study.distributions.exponential import Exponential
from flowcore.study.distributions.gamma import Gamma
from flowcore.study.distributions.lognormal import Lognormal
from flowcore.study.distributions.normal import Normal, NormalOffset
from flowcore.study.distributions.poisson import Poisson
from flowcore.study.distributions.shape import Row, Shape, amount
from flowcore.study.distributions.triangular import Pert, Triangular
from flowcore.study.distributions.uniform import Uniform
from flowcore.study.distributions.weibull import Weibull
from flowcore.study.durations import Duration, Offset

Number = TypeAliasType("Number", float)


def _shape_of(value: object) -> str:
    if isinstance(value, dict):
        return str(value.get("dist"))
    return str(getattr(value, "dist", "constant"))


Distribution = TypeAliasType(
    "Distribution",
    Annotated[
        Annotated[Duration, Tag("constant")]
        | Annotated[Exponential[Duration], Tag("exponential")]
        | Annotated[Uniform[Duration], Tag("uniform")]
        | Annotated[Triangular[Duration], Tag("triangular")]
        | Annotated[Pert[Duration], Tag("pert")]
        | Annotated[Normal[Duration], Tag("normal")]
        | Annotated[Lognormal[Duration], Tag("lognormal")]
        | Annotated[Gamma[Duration], Tag("gamma")]
        | Annotated[Erlang[Duration], Tag("erlang")]
        | Annotated[Weibull[Duration], Tag("weibull")]
        | Annotated[Beta[Duration], Tag("beta")]
        | Annotated[Discrete[Duration], Tag("discrete")]
        | Annotated[Empirical[Duration], Tag("empirical")],
        Discriminator(_shape_of),
    ],
)

NumberDistribution = TypeAliasType(
    "NumberDistribution",
    Annotated[
        Annotated[Number, Tag("constant")]
        | Annotated[Exponential[Number], Tag("exponential")]
        | Annotated[Uniform[Number], Tag("uniform")]
        | Annotated[Triangular[Number], Tag("triangular")]
        | Annotated[Pert[Number], Tag("pert")]
        | Annotated[Normal[Number], Tag("normal")]
        | Annotated[Lognormal[Number], Tag("lognormal")]
        | Annotated[Gamma[Number], Tag("gamma")]
        | Annotated[Erlang[Number], Tag("erlang")]
        | Annotated[Weibull[Number], Tag("weibull")]
        | Annotated[Beta[Number], Tag("beta")]
        | Annotated[Discrete[Number], Tag("discrete")]
        | Annotated[Empirical[Number], Tag("empirical")]
        | Annotated[Poisson[Number], Tag("poisson")],
        Discriminator(_shape_of),
    ],
)

OffsetDistribution = TypeAliasType(
    "OffsetDistribution",
    Annotated[
        Annotated[Offset, Tag("constant")]
        | Annotated[Uniform[Offset], Tag("uniform")]
        | Annotated[Triangular[Offset], Tag("triangular")]
        | Annotated[NormalOffset[Offset], Tag("normal")]
        | Annotated[Discrete[Offset], Tag("discrete")]
        | Annotated[Empirical[Offset], Tag("empirical")],
        Discriminator(_shape_of),
    ],
)

Shapes = tuple[type[Shape[Any]], ...]
OF_TIMES: Shapes = (
    Triangular,
    Uniform,
    Lognormal,
    Normal,
    Exponential,
    Erlang,
    Pert,
    Gamma,
    Weibull,
    Beta,
    Discrete,
    Empirical,
)
"""The shapes of times, in the order in which they are offered."""
OF_NUMBERS: Shapes = (*OF_TIMES, Poisson)
OF_OFFSETS: Shapes = (Triangular, Uniform, NormalOffset, Discrete, Empirical)

AnyDistribution = Distribution | NumberDistribution | OffsetDistribution


def mean_of(value: AnyDistribution) -> float:
    """Return the mean of what a distribution brings, in minutes or plain."""
    return value.average() if isinstance(value, Shape) else amount(value)


def sd_of(value: AnyDistribution) -> float:
    """Return the standard deviation of what a distribution brings, in minutes or plain."""
    return max(0.0, value.variance()) ** 0.5 if isinstance(value, Shape) else 0.0


def row_of(value: AnyDistribution) -> Row:
    """Return how a distribution is drawn from."""
    return value.row() if isinstance(value, Shape) else Row("constant", amount(value))
