"""What whoever draws frames asks and says: a worker's browser, or a tab of the desk."""

import time

from django.conf import settings
from ninja import Router

from heron.dailies.asked import FINE, Render
from mellow.actors import Request, permit
from mellow.dailies import work
from mellow.dailies.api.shapes import (
    ByIn,
    ClaimedFrame,
    ClaimIn,
    ClaimOut,
    LeftOut,
    ReasonIn,
    WantedOut,
    WorkerIn,
)
from mellow.dailies.models import Take
from mellow.productions.api.shapes import REFUSALS

router = Router()
#: Workers that said that they are there, and when; those that have not for a while are gone.
_HEARD: dict[str, tuple[float, WorkerIn]] = {}
_GONE_S = 15.0
#: How often a worker reports at least, in seconds: this soon it learns that its frames are no longer wanted.
_BEAT_S = 2.0


@router.get("workers", response=list[WorkerIn])
def workers(request: Request) -> list[WorkerIn]:
    """Who is there to draw and to pack."""
    permit(request.auth, "look")
    since = time.monotonic() - _GONE_S
    return [one for at, one in _HEARD.values() if at > since]


@router.post("workers", response=WantedOut)
def here(request: Request, payload: WorkerIn) -> WantedOut:
    """A worker says that it is there."""
    permit(request.auth, "edit")
    _HEARD[payload.name] = (time.monotonic(), payload)
    return WantedOut(wanted=True)


@router.post("workers/begin", response=list[LeftOut])
def begins(request: Request, payload: WorkerIn) -> list[LeftOut]:
    """A worker begins: what it had claimed before is free again. What is there to be gone on with."""
    permit(request.auth, "edit")
    work.release(payload.name)
    if payload.packs:
        # What this one was packing when it stopped: nobody else's.
        mine = work.unfinished().filter(state=Take.State.PACKING, packer=payload.name)
        mine.update(until=None, packer="")
        work.taking_up.send(None, name=payload.name)
    return [
        LeftOut(id=take.pk, frozen=take.frozen_id, wide=take.wide, high=take.high, state=take.state)
        for take in work.unfinished()
    ]


@router.post("takes/{int:take_id}/claim", response={200: ClaimOut, **REFUSALS})
def claim(request: Request, take_id: int, payload: ClaimIn) -> ClaimOut:
    """Frames for somebody to draw."""
    permit(request.auth, "edit")
    take = work.take_row(take_id)
    found = work.claim(take, payload.by, payload.count)
    take.refresh_from_db()
    render = Render.model_validate(take.render)
    return ClaimOut(
        frames=[
            ClaimedFrame(place=one.place, camera=one.camera, stage=one.stage, shot=one.shot, mixed=one.mixed)
            for one in found
        ],
        wanted=take.state in (Take.State.WAITING, Take.State.DRAWING), beat=min(settings.LEASE_S / 5, _BEAT_S), quality=render.quality, drawings=FINE, silhouettes=render.judge == "silhouettes",
        seconds=render.seconds,
    )  # fmt: skip


@router.post("takes/{int:take_id}/at-it", response={200: WantedOut, **REFUSALS})
def heartbeat(request: Request, take_id: int, payload: ByIn) -> WantedOut:
    """Somebody is still drawing."""
    permit(request.auth, "edit")
    return WantedOut(wanted=work.heartbeat(work.take_row(take_id), payload.by))


@router.post("takes/{int:take_id}/frames/{int:place}/picture", response={200: WantedOut, **REFUSALS})
def picture(request: Request, take_id: int, place: int) -> WantedOut:
    """A frame's picture, as PNG."""
    permit(request.auth, "edit")
    take = work.take_row(take_id)
    work.drawn(take, place, request.body)
    return WantedOut(wanted=take.state in (Take.State.WAITING, Take.State.DRAWING))


@router.post("takes/{int:take_id}/frames/{int:place}/failed", response={200: WantedOut, **REFUSALS})
def failed(request: Request, take_id: int, place: int, payload: ReasonIn) -> WantedOut:
    """A frame could not be drawn."""
    permit(request.auth, "edit")
    take = work.take_row(take_id)
    work.cannot(take, place, payload.reason)
    return WantedOut(wanted=take.state in (Take.State.WAITING, Take.State.DRAWING))


@router.post("takes/{int:take_id}/trouble", response={200: WantedOut, **REFUSALS})
def trouble(request: Request, take_id: int, payload: ReasonIn) -> WantedOut:
    """Nothing of it can be drawn where it was tried, and why."""
    permit(request.auth, "edit")
    take = work.take_row(take_id)
    Take.objects.filter(pk=take.pk, state__in=Take.UNFINISHED).update(reason=payload.reason)
    return WantedOut(wanted=True)
