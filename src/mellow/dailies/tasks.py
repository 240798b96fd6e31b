"""What workers are sent to do. Both may be done twice, or stopped anywhere, without harm."""

from mellow.dailies.queue import DRAWING, PACKING


@DRAWING.task()  # type: ignore[untyped-decorator]
def draw(take: int, frozen: int, wide: int, high: int) -> None:
    """Draw frames of a take until there are none left."""
    # A server that sends tasks opens no browser.
    from mellow.dailies.browser import draw_take

    draw_take(take, frozen, wide, high)


@PACKING.task()  # type: ignore[untyped-decorator]
def pack(take: int) -> None:
    """Pack a take whose frames are all drawn."""
    from django.db import close_old_connections

    from mellow.dailies.packing import pack_take

    # A worker waits for days between two takes.
    close_old_connections()
    try:
        pack_take(take)
    finally:
        close_old_connections()
