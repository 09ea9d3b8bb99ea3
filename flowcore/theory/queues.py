"""Single waiting lines in the long run."""

from collections.abc import Sequence
from math import exp, expm1

from scipy.special import betainc


def erlang_b(servers: int, load: float) -> float:
    """Return the share of cases that find all servers busy where none may wait.

    `load` is the offered load in servers (Erlang). The recursion in the number of servers is
    numerically stable. Source: Jagerman, Some properties of the Erlang loss function, Bell
    System Technical Journal 53 (1974).
    """
    blocking = 1.0
    for server in range(1, servers + 1):
        blocking = load * blocking / (server + load * blocking)
    return blocking


def erlang_c(servers: int, load: float) -> float:
    """Return the share of cases that must wait in M/M/c; 1 where the load fills the servers.

    Source: Cooper, Introduction to Queueing Theory (1981), eq. 4.7 of chapter 3.
    """
    if load >= servers:
        return 1.0
    blocking = erlang_b(servers, load)
    return servers * blocking / (servers - load * (1 - blocking))


def wait_mmc(servers: int, arrival_rate: float, mean_work: float) -> float:
    """Return the mean wait in the line of M/M/c, in the time unit of `mean_work`.

    Infinite where the servers cannot keep up. Source: as for `erlang_c`.
    """
    load = arrival_rate * mean_work
    if load >= servers:
        return float("inf")
    return erlang_c(servers, load) * mean_work / (servers - load)


def wait_mg1(arrival_rate: float, mean_work: float, sd_work: float) -> float:
    """Return the mean wait in the line of M/G/1 (Pollaczek–Khinchine).

    Infinite where the server cannot keep up. Source: Kleinrock, Queueing Systems I (1975), eq. 5.63.
    """
    load = arrival_rate * mean_work
    if load >= 1:
        return float("inf")
    return arrival_rate * (mean_work**2 + sd_work**2) / (2 * (1 - load))


def loss_mmck(servers: int, places: int, load: float) -> tuple[float, float]:
    """Return the share turned away and the mean number waiting in M/M/c/K, K being servers and places in line.

    `load` is the offered load in servers. Source: Gross and Harris, Fundamentals of Queueing
    Theory (1998), section 2.5.
    """
    weights = [1.0]
    for inside in range(1, servers + places + 1):
        weights.append(weights[-1] * load / min(inside, servers))
    total = sum(weights)
    waiting = sum(max(0, inside - servers) * weight for inside, weight in enumerate(weights)) / total
    return weights[-1] / total, waiting


def abandon_mmcm(servers: int, arrival_rate: float, mean_work: float, mean_patience: float) -> tuple[float, float]:
    """Return the share that gives up and the mean number waiting in M/M/c+M (Erlang A).

    Source: Palm's model as given by Garnett, Mandelbaum and Reiman, Designing a call center with
    impatient customers, Manufacturing & Service Operations Management 4 (2002). States are summed
    until what is left out is below 1e-15 of the whole.
    """
    weight, total, waiting = 1.0, 1.0, 0.0
    inside = 0
    while True:
        inside += 1
        leaving = min(inside, servers) / mean_work + max(0, inside - servers) / mean_patience
        weight *= arrival_rate / leaving
        total += weight
        waiting += max(0, inside - servers) * weight
        if inside > servers and arrival_rate < leaving and weight * (inside - servers) < 1e-15 * total:
            break
    waiting /= total
    return waiting / mean_patience / arrival_rate, waiting


def wait_mg1_breakdowns(
    arrival_rate: float, mean_work: float, sd_work: float, mean_up: float, mean_down: float, sd_down: float
) -> float:
    """Return the mean wait in M/G/1 whose server breaks down while working and then goes on with the case.

    Working time until a breakdown is exponential with mean `mean_up`. The wait is Pollaczek's with
    the completion time in place of the work. Infinite where the server cannot keep up.
    Source: Avi-Itzhak and Naor, Some queuing problems with the service station subject to
    breakdown, Operations Research 11 (1963), model A: `mean_down` adds to a case's own time too.
    """
    rate = 1 / mean_up
    mean = mean_work * (1 + rate * mean_down)
    variance = (sd_work * (1 + rate * mean_down)) ** 2 + mean_work * rate * (mean_down**2 + sd_down**2)
    return wait_mg1(arrival_rate, mean, variance**0.5)


def wait_mg1_vacations(
    arrival_rate: float, mean_work: float, sd_work: float, mean_vacation: float, sd_vacation: float
) -> float:
    """Return the mean wait in M/G/1 whose server goes on vacation, again and again, whenever nobody waits.

    Source: Levy and Yechiali, Utilization of idle time in an M/G/1 queueing system, Management
    Science 22 (1975): Pollaczek's wait and the mean rest of a vacation.
    """
    rest = (mean_vacation**2 + sd_vacation**2) / (2 * mean_vacation)
    return wait_mg1(arrival_rate, mean_work, sd_work) + rest


def waits_priorities(arrival_rates: Sequence[float], means: Sequence[float], sds: Sequence[float]) -> list[float]:
    """Return the mean wait of each class in M/G/1 without pre-emption, the most urgent class first.

    Source: Cobham, Priority assignment in waiting line problems, Operations Research 2 (1954).
    """
    rest = sum(rate * (mean**2 + sd**2) / 2 for rate, mean, sd in zip(arrival_rates, means, sds, strict=True))
    waits, before = [], 0.0
    for rate, mean in zip(arrival_rates, means, strict=True):
        upto = before + rate * mean
        waits.append(rest / ((1 - before) * (1 - upto)) if upto < 1 else float("inf"))
        before = upto
    return waits


def times_preemptive(arrival_rates: Sequence[float], means: Sequence[float], sds: Sequence[float]) -> list[float]:
    """Return the mean time in the system of each class in M/G/1 with pre-emption and resumption.

    Source: Kleinrock, Queueing Systems II (1976), eq. 3.41; the most urgent class first.
    """
    times, before, rest = [], 0.0, 0.0
    for rate, mean, sd in zip(arrival_rates, means, sds, strict=True):
        upto = before + rate * mean
        rest += rate * (mean**2 + sd**2) / 2
        times.append(mean / (1 - before) + rest / ((1 - before) * (1 - upto)) if upto < 1 else float("inf"))
        before = upto
    return times


def wait_ggc(servers: int, arrival_rate: float, mean_work: float, cv_gap: float, cv_work: float) -> float:
    """Return about the mean wait in G/G/c: that of M/M/c scaled by how uneven gaps and work are.

    `cv_gap` and `cv_work` are standard deviations over means. Sources: Allen, Probability,
    Statistics and Queueing Theory (1990), the Allen–Cunneen approximation; with one server
    Kingman, The single server queue in heavy traffic, Proc. Cambridge Phil. Society 57 (1961).
    """
    return wait_mmc(servers, arrival_rate, mean_work) * (cv_gap**2 + cv_work**2) / 2


def wait_forked(arrival_rate: float, mean_work: float) -> float:
    """Return the mean time from fork to join of two M/M/1 branches, each with this exponential work.

    Source: Flatto and Hahn, Two parallel queues created by arrivals with two demands, SIAM Journal
    on Applied Mathematics 44 (1984): (12 − ρ)/8 times the time in one M/M/1.
    """
    load = arrival_rate * mean_work
    if load >= 1:
        return float("inf")
    return (12 - load) / 8 * mean_work / (1 - load)


def wait_beyond_mmc(servers: int, arrival_rate: float, mean_work: float, limit: float) -> float:
    """Return the share of cases in M/M/c that wait longer than a time, first come first served.

    1 where the servers cannot keep up. Source: Cooper, Introduction to Queueing Theory (1981), eq. 4.22 of chapter 3.
    """
    load = arrival_rate * mean_work
    if load >= servers:
        return 1.0
    return erlang_c(servers, load) * exp(-(servers - load) / mean_work * limit)


def wait_beyond_mmcm(servers: int, arrival_rate: float, mean_work: float, mean_patience: float, limit: float) -> float:
    """Return the share of those served in M/M/c+M (Erlang A) who wait longer than a time.

    Who finds k more than the servers inside waits for k + 1 leavings, at rates that fall with those ahead: the sum is
    spread like the (k + 1)-th of ordered exponential times, whose law is an incomplete beta function, and is waited for
    by those alone whose patience lasts as long. Sources: Palm's model as for `abandon_mmcm`; for the law Rényi, On the
    theory of order statistics, Acta Mathematica Academiae Scientiarum Hungaricae 4 (1953). States are summed until what
    is left out is below 1e-12 of the whole.
    """
    stages = servers * mean_patience / mean_work
    over = -expm1(-limit / mean_patience)
    weight, served, beyond = 1.0, 0.0, 0.0
    inside = 0
    while True:
        ahead = inside - servers
        stays = stages / (stages + ahead + 1) if ahead >= 0 else 1.0
        served += weight * stays
        if ahead >= 0:
            beyond += weight * stays * float(1 - betainc(ahead + 1, stages + 1, over))
        inside += 1
        leaving = min(inside, servers) / mean_work + max(0, inside - servers) / mean_patience
        weight *= arrival_rate / leaving
        if inside > servers and arrival_rate < leaving and weight * (inside - servers) < 1e-12 * served:
            break
    return beyond / served
