"""From where on something counts as full, long, or doubtful: the one place where such numbers stand."""

FULL = 0.995
"""At work, or loaded, so large a share of the time, a team's lines grow as long as cases come."""
STRETCHED = 0.95
"""Beyond so large a share of the time at work, a little more work makes waits much longer."""
STILL_INSIDE = 0.03
"""More cases left inside at the end than so large a share of those completed: the figures leave out too many."""
GROWTH = 0.1
"""So much more inside in the second half of a run than in the first, and it has not settled."""
CERTAIN = 0.99
"""How sure a run's growth must be before it is spoken of."""
LONG_BACKLOG = 60.0
"""So many minutes' work piled up for each of a team is worth a word."""
SOME_ARRIVALS = 0.001
"""A smaller share of a week's cases than this in an hour is left aside."""
LONG_RUN_HOURS = 0.05
"""A replication that takes longer than this is worth a word before it is started."""
A_VISIT = 720.0
"""Half of the cases being through in fewer minutes than this, they are not meant to stay overnight."""
WAITS_FOR_A_SHIFT = 1.0
"""So many minutes of waiting for a shift to begin, on average, at a step whose people go before the last case comes."""
