"""What a log says beside what a study has: proposals, each of which can be taken by itself."""

from flowcore.calibration.proposals.all import Proposals, proposals_for
from flowcore.calibration.proposals.taking import take

__all__ = ["Proposals", "proposals_for", "take"]
