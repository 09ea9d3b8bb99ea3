"""Random numbers without a state: every draw is a pure function of whose luck it is and what it is for.

The mixer is the finaliser of SplitMix64 (Steele, Lea and Flood, Fast splittable pseudorandom
number generators, OOPSLA 2014; variant 13 of Stafford).
"""

import math

import numpy as np

from flowcore.kernel.compiling.compiled import part, rare
from flowcore.kernel.records.kinds import NONE, DrawFor
from flowcore.kernel.records.world import World

_GOLDEN = np.uint64(0x9E3779B97F4A7C15)
_FIRST = np.uint64(0xBF58476D1CE4E5B9)
_SECOND = np.uint64(0x94D049BB133111EB)
_S30, _S27, _S31, _S11 = np.uint64(30), np.uint64(27), np.uint64(31), np.uint64(11)
_LAP = np.uint64(8)
_STEP_OF_53_BITS = 1.0 / 9007199254740992.0


@part
def mix(value: np.uint64) -> np.uint64:
    """Scatter 64 bits over all 64 bits."""
    value = (value ^ (value >> _S30)) * _FIRST
    value = (value ^ (value >> _S27)) * _SECOND
    return value ^ (value >> _S31)


@part
def chain(key: np.uint64, part: np.uint64 | int) -> np.uint64:
    """Return a key that depends on all of `key` and all of `part`."""
    return mix(key + _GOLDEN * (np.uint64(part) + np.uint64(1)))


@part
def uniform(key: np.uint64, draw: int) -> float:
    """Return the number of a key that is drawn as this one, from 0, strictly between 0 and 1."""
    bits = chain(key, np.uint64(draw)) >> _S11
    return (float(bits) + 0.5) * _STEP_OF_53_BITS


@part
def case_luck(world: World, stream: int, number: int) -> np.uint64:
    """Return what the case of a stream's number-th occasion brings to all of its draws."""
    return chain(world.sources[stream].key, np.uint64(number))


@part
def key_for(world: World, case_id: int, element: np.uint64, purpose: int) -> np.uint64:
    """Return the key of a case's draws at an element, another one on every lap of a loop."""
    occasion = (np.uint64(world.cases[case_id].laps) << _LAP) | np.uint64(purpose)
    return chain(world.cases[case_id].luck, element + occasion * _FIRST)


@part
def clock_key(world: World, clock_id: int) -> np.uint64:
    """Return the key of the next draw of a clock that counts down to an interruption."""
    clock = world.interruption_clocks[clock_id]
    clock.draws += 1
    team = world.plan.teams[world.plan.interruptions[clock.interrupt].team]
    who = NONE if clock.member == NONE else clock.member - team.first_member
    key = chain(chain(world.clock[0].seed, team.key), np.uint64(clock.interrupt - team.first_interruption))
    return chain(chain(key, np.uint64(who + 1)), (np.uint64(clock.draws) << _LAP) | np.uint64(DrawFor.MEMBER))


@rare
def standard_normal_quantile(p: float) -> float:
    """Return the quantile of the standard normal distribution, to full double precision nearly.

    Source: Wichura, Algorithm AS 241, Applied Statistics 37 (1988), routine PPND16.
    """
    q = p - 0.5
    if abs(q) <= 0.425:
        r = 0.180625 - q * q
        return (
            q
            * (((((((2509.0809287301226727 * r + 33430.575583588128105) * r + 67265.770927008700853) * r
                + 45921.953931549871457) * r + 13731.693765509461125) * r + 1971.5909503065514427) * r
                + 133.14166789178437745) * r + 3.387132872796366608)
            / (((((((5226.495278852545925 * r + 28729.085735721942674) * r + 39307.89580009271061) * r
                + 21213.794301586595867) * r + 5394.1960214247511077) * r + 687.1870074920579083) * r
                + 42.313330701600911252) * r + 1.0)
        )  # fmt: skip
    tail = p if q < 0 else 1.0 - p
    r = math.sqrt(-math.log(tail))
    if r <= 5.0:
        r -= 1.6
        size = (
            (((((((7.7454501427834140764e-4 * r + 0.0227238449892691845833) * r + 0.24178072517745061177) * r
                + 1.27045825245236838258) * r + 3.64784832476320460504) * r + 5.7694972214606914055) * r
                + 4.6303378461565452959) * r + 1.42343711074968357734)
            / (((((((1.05075007164441684324e-9 * r + 5.475938084995344946e-4) * r
                + 0.0151986665636164571966) * r + 0.14810397642748007459) * r + 0.68976733498510000455) * r
                + 1.6763848301838038494) * r + 2.05319162663775882187) * r + 1.0)
        )  # fmt: skip
    else:
        r -= 5.0
        size = (
            (((((((2.01033439929228813265e-7 * r + 2.71155556874348757815e-5) * r
                + 0.0012426609473880784386) * r + 0.026532189526576123093) * r + 0.29656057182850489123) * r
                + 1.7848265399172913358) * r + 5.4637849111641143699) * r + 6.6579046435011037772)
            / (((((((2.04426310338993978564e-15 * r + 1.4215117583164458887e-7) * r
                + 1.8463183175100546818e-5) * r + 7.868691311456132591e-4) * r + 0.0148753612908506148525) * r
                + 0.13692988092273580531) * r + 0.59983220655588793769) * r + 1.0)
        )  # fmt: skip
    return -size if q < 0 else size
