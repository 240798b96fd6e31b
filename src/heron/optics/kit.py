"""The lenses a production keeps, and what each of them cannot do."""

from typing import Any

from pydantic import Field, model_validator

from heron.model import Id, Model, Name
from heron.optics.exposure import NARROWEST_STOP, WIDEST_STOP
from heron.optics.focus import nearest_possible
from heron.optics.view import LONGEST_MM, SHORTEST_MM


class KitLens(Model):
    """A prime (one focal length) or a zoom; blades of its iris, 0 when it stays round."""

    id: Id
    name: Name
    shortest_mm: float = Field(ge=SHORTEST_MM, le=LONGEST_MM)
    longest_mm: float = Field(ge=SHORTEST_MM, le=LONGEST_MM)
    widest: float = Field(default=2.0, ge=WIDEST_STOP, le=NARROWEST_STOP)
    nearest_m: float = Field(default=0.5, ge=0.01, le=100.0)
    blades: int = Field(default=0, ge=0, le=20)

    @model_validator(mode="after")
    def _whole(self) -> "KitLens":
        if self.longest_mm < self.shortest_mm:
            raise ValueError(
                f"{self.name} would end at {self.longest_mm:g} mm, before it starts at {self.shortest_mm:g} mm"
            )
        if 0 < self.blades < 3:
            raise ValueError("an iris has no blades (round) or at least 3")
        if self.nearest_m < nearest_possible(self.shortest_mm):
            raise ValueError(
                f"{self.name} cannot focus at {self.nearest_m:g} m; nothing nearer than twice its focal length can be sharp"
            )
        return self

    @property
    def prime(self) -> bool:
        """Whether it has one focal length."""
        return self.shortest_mm == self.longest_mm


def reach_breach(lens: KitLens, focal: Any) -> str:
    """What is wrong with a focal length on a lens, as a sentence's middle; empty when nothing is."""
    if lens.shortest_mm <= focal <= lens.longest_mm:
        return ""
    if lens.prime:
        return f"the {lens.name} is a prime: {focal:g} mm is not {lens.shortest_mm:g} mm"
    if focal < lens.shortest_mm:
        return f"the {lens.name} goes no wider than {lens.shortest_mm:g} mm; {focal:g} mm was asked"
    return f"the {lens.name} goes no longer than {lens.longest_mm:g} mm; {focal:g} mm was asked"


def stop_breach(lens: KitLens, aperture: float) -> str:
    """What is wrong with a stop on a lens."""
    if aperture >= lens.widest - 1e-9:
        return ""
    return f"the {lens.name} opens to f/{lens.widest:g}, not to f/{aperture:g}"


def near_breach(lens: KitLens, metres: float | None) -> str:
    """What is wrong with a focus distance on a lens; None is infinity."""
    if metres is None or metres >= lens.nearest_m - 1e-9:
        return ""
    return f"the {lens.name} focuses no nearer than {lens.nearest_m:g} m; {metres:g} m was asked"


def _prime(focal: float, widest: float, nearest: float, blades: int) -> KitLens:
    return KitLens(
        id=f"lens-{focal:g}", name=f"{focal:g} mm", shortest_mm=focal, longest_mm=focal,
        widest=widest, nearest_m=nearest, blades=blades,
    )  # fmt: skip


#: A usual spread of primes with one zoom: common practice.
FIRST_KIT = (
    _prime(18, 2.0, 0.3, 9), _prime(24, 1.4, 0.3, 9), _prime(32, 1.4, 0.35, 9), _prime(40, 1.4, 0.4, 9),
    _prime(50, 1.4, 0.45, 9), _prime(65, 1.4, 0.6, 9), _prime(85, 1.4, 0.8, 9), _prime(100, 2.0, 0.9, 9), _prime(135, 2.0, 1.2, 9),
    KitLens(id="lens-zoom", name="Zoom 24–120 mm", shortest_mm=24, longest_mm=120, widest=2.8, nearest_m=0.6, blades=9),
)  # fmt: skip
