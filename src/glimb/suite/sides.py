"""The sides of a ladder that one works on: one, or of a case that runs twice two, which make the same moves."""

from __future__ import annotations

from glimb.suite.climber import Climber
from glimb.suite.replay import Replay


class Sides:
    """Replays of the same case, each under another setting. What is done is done on one of them; the others follow."""

    def __init__(self, *replays: Replay) -> None:
        self.all = replays
        self.number = 0
        self._climbers = [Climber(replay) for replay in replays]

    @property
    def replay(self) -> Replay:
        """That on which one works."""
        return self.all[self.number]

    @property
    def climber(self) -> Climber:
        """What climbs into its rungs."""
        return self._climbers[self.number]

    def turn(self, number: int) -> bool:
        """Work on another one; says whether it is another one."""
        if number == self.number or number >= len(self.all):
            return False
        self.follow()
        self.number = number
        return True

    def follow(self) -> None:
        """Have the others stand where the one stands on which one works."""
        for replay in self.all:
            if replay is not self.replay:
                replay.follow(self.replay)

    def close(self) -> None:
        """Let the engines go."""
        for replay in self.all:
            replay.close()
            replay.engine.close()
