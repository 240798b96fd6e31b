"""What workers are sent to do for films; done twice, it does no harm."""

from mellow.dailies.queue import PACKING


@PACKING.task()  # type: ignore[untyped-decorator]
def join(render: int) -> None:
    """Join the takes of a film's scenes into its movie."""
    from django.db import close_old_connections

    from mellow.films import renders

    close_old_connections()
    try:
        renders.join(render)
    finally:
        close_old_connections()
