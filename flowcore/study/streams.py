"""Streams: where cases come from."""

from typing import Literal

from flowcore.study.base import Id, Name, Part, Share
from flowcore.study.distributions import Distribution


class MixPart(Part):
    """The share of one case type among a stream's cases."""

    type: Id
    share: Share


class RandomStream(Part):
    """Cases that come one by one, a random time apart."""

    id: Id
    name: Name
    kind: Literal["random"]
    gap: Distribution
    mix: list[MixPart] = []
    to: Id
