"""Single waiting lines in the long run."""


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
