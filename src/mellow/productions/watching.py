"""Telling everyone who has a scene open that it changed."""

import asyncio
from collections.abc import AsyncIterator

from mellow.productions import models
from mellow.productions.open_scenes import Ear, opened

#: How long until another process's change is noticed, seconds.
LOOK_EVERY_S = 0.5
#: A line now and then keeps the connection open.
BREATHE_EVERY_S = 15.0


def tell(scene_id: int) -> None:
    """Wake everyone in this process who watches a scene; from any thread."""
    for loop, event in list(opened(scene_id).ears):
        if not loop.is_closed():
            loop.call_soon_threadsafe(event.set)


async def revisions(scene_id: int, seen: int) -> AsyncIterator[str]:
    """Server-sent events (WHATWG HTML): each newer revision as it comes, then the end when the scene is gone."""
    ear: Ear = (asyncio.get_running_loop(), asyncio.Event())
    ears = opened(scene_id).ears
    ears.add(ear)
    try:
        yield "retry: 1000\n\n"
        quiet = 0.0
        while True:
            now = await models.Scene.objects.filter(pk=scene_id).values_list("revision", flat=True).afirst()
            if now is None:
                yield "event: gone\ndata: {}\n\n"
                return
            if now != seen:
                seen, quiet = now, 0.0
                yield f"event: change\ndata: {now}\n\n"
            elif quiet >= BREATHE_EVERY_S:
                quiet = 0.0
                yield ": here\n\n"
            try:
                await asyncio.wait_for(ear[1].wait(), LOOK_EVERY_S)
            except TimeoutError:
                quiet += LOOK_EVERY_S
            ear[1].clear()
    finally:
        ears.discard(ear)
