"""Why a shot is there: what the one before it would have lost, had it gone on."""

from collections.abc import Sequence

import numpy as np

from heron.assembling.angles import Angles
from heron.assembling.cut_costs import CutCosts
from heron.assembling.drama import Drama
from heron.assembling.judging import Judged
from heron.assembling.people import Said
from heron.assembling.shortest import Run
from heron.framing.shot_size import SIZES
from heron.lines.moments import bare

#: What gains less than this is not a reason.
_ENOUGH = 0.25
#: A moment is why a cut falls where it does when it is no farther off, frames.
_NEAR_F = 3


class Reasons:
    """Says why each shot is there."""

    def __init__(
        self, found: Angles, story: Drama, judged: Judged, costs: CutCosts, lines: Sequence[Said], names: list[str],
    ) -> None:  # fmt: skip
        self._found, self._story, self._judged, self._costs = found, story, judged, costs
        self._lines, self._names = lines, names

    def of(self, runs: Sequence[Run], i: int, kept: bool) -> str:
        """Why one of them is there, and why it begins where it does."""
        run = runs[i]
        if kept:
            return "kept as it was"
        size = self._size(run)
        if i == 0:
            return f"it begins with {self._whom(run)}, {size}"
        moment = self._moment(run)
        what = self._gains(runs[i - 1], run)
        if moment.endswith((" speaks", "'s line")):
            # Whom it is to see is said already.
            what = [one for one in what if not one.startswith("to ")]
        why = ", ".join([moment, *what])
        t = np.array([run.first])
        if self._costs.crossed(t)[0, runs[i - 1].camera, run.camera]:
            why += "; it crosses the line: no other camera serves"
        if self._costs.jumps(t)[0, runs[i - 1].camera, run.camera]:
            why += "; it jumps: no other camera serves"
        return f"{why} ({size})"

    def _size(self, run: Run) -> str:
        k = int(self._found.size[run.camera, (run.first + run.stop) // 2])
        return SIZES[k] if k < len(SIZES) else "nobody in it"

    def _whom(self, run: Run) -> str:
        of = int(self._found.subject[run.camera, run.first])
        if of < len(self._names):
            return self._names[of]
        return " and ".join(self._names) if of == len(self._names) else "the place"

    def _gains(self, before: Run, run: Run) -> list[str]:
        """What is gained over the shot before going on, the most first."""
        span = slice(run.first, run.stop)
        judged, a, b = self._judged, before.camera, run.camera
        gained = (judged.attention[a, :, span] - judged.attention[b, :, span]).sum(axis=1)
        size = float((judged.size[a, span] - judged.size[b, span]).sum())
        found: list[tuple[float, str]] = []
        for k in np.flatnonzero(gained > _ENOUGH):
            found.append((float(gained[k]), self._shown(int(k), run)))
        if len(found) > 1:
            found = [(sum(gain for gain, _ in found), f"to see {' and '.join(self._names)} together")]
        if size > _ENOUGH:
            sizes = self._found.size[[a, b], run.first]
            found.append((size, "closer" if sizes[1] < sizes[0] else "wider"))
        if not found:
            return ["as the shot before has lasted its time"]
        return [what for _, what in sorted(found, reverse=True)[:2]]

    def _shown(self, who: int, run: Run) -> str:
        """What somebody does in a shot that it is cut to for."""
        name = self._names[who]
        speaks = self._story.speaks[run.first : run.stop]
        if (speaks == who).mean() >= 0.4:
            return f"to see {name} say it" if speaks[0] == who else f"to {name}, who speaks next"
        if (speaks >= 0).any() and (speaks[: max(len(speaks) // 2, 1)] >= 0).any():
            return f"to see {name} hear it"
        return (
            f"to see {name}, who heard it"
            if any(one.stop <= run.first for one in self._lines)
            else f"to see {name}"
        )

    def _moment(self, run: Run) -> str:
        of = int(self._found.subject[run.camera, run.first])
        near = [
            (abs(one.frame - run.first), one.told)
            for one in self._story.moments
            if one.to == of and abs(one.frame - run.first) <= _NEAR_F
        ]
        if near:
            return min(near)[1]
        if self._story.speaks[run.first] == -1:
            return "in a silence"
        for one in self._lines:
            if one.first <= run.first < one.stop:
                word = next((word for at, word in one.words if at == run.first), None)
                return f"before “{bare(word)}”" if word else f"during {one.line.line.name}"
        return "while a voice is heard"
