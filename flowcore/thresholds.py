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
LOST_IS_TOLD = 0.01
"""From so large a share of the cases on that give up or are turned away, it is told."""
FEW = 0.25
"""At most so large a share of the cases is few."""
MOST = 0.5
"""From so large a share on, it is most of something."""
A_PART = 0.1
"""A cause or a line of costs that is less than so large a share of the whole is not told."""
WORTH_TELLING = 0.5
"""Waits of fewer minutes than this, on average, are not gone into."""
PEAK = 1.5
"""An hour of the week whose wait is so many times the mean is a peak."""
NEAR_THE_PEAK = 0.75
"""Hours of the day next to the worst with at least so large a share of its wait belong to it."""
SOME_OF_THE_WEEK = 0.002
"""An hour of the week in which less than this share of the visits begin is not looked at."""
IDLE = 0.5
"""At work less than so large a share of its time, a team is told to be free most of it."""
IMPRECISE = 0.1
"""A half-width of more than so large a share of the mean wait says: too few replications."""
ALIKE = 0.05
"""What was observed without its ends is taken to be known to so large a share of it."""
