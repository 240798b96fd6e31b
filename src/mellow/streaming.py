"""Files sent a piece at a time, whole or in part (RFC 9110, Range), so that a slow reader holds no memory."""

import asyncio
import re
from collections.abc import AsyncIterator, Iterator
from typing import IO

from django.http import HttpRequest, HttpResponse, StreamingHttpResponse

_PIECE = 256 * 1024
_RANGE = re.compile(r"bytes=(\d*)-(\d*)")


class FileStream(StreamingHttpResponse):
    """A part of an open file; on an asynchronous server it is read in another thread."""

    def __init__(self, file: IO[bytes], first: int, count: int, **more: object) -> None:
        self.file, self.left = file, count
        file.seek(first)
        super().__init__(self._pieces(), **more)
        self._resource_closers.append(file.close)  # type: ignore[attr-defined]

    def _piece(self) -> bytes:
        piece = self.file.read(min(_PIECE, self.left))
        self.left -= len(piece)
        return piece

    def _pieces(self) -> Iterator[bytes]:
        while piece := self._piece():
            yield piece

    async def __aiter__(self) -> AsyncIterator[bytes]:
        """The pieces, none of them held before it is asked for."""
        while piece := await asyncio.to_thread(self._piece):
            yield piece


def send_file(
    request: HttpRequest, file: IO[bytes], size: int, name: str, kind: str
) -> HttpResponse | FileStream:
    """An open file as an attachment, or the part of it that is asked for."""
    first, last = 0, size - 1
    asked = _RANGE.fullmatch(request.headers.get("Range", ""))
    partial = asked is not None and asked.groups() != ("", "")
    if asked is not None and partial:
        begin, end = asked.groups()
        if begin:
            first, last = int(begin), min(int(end), last) if end else last
        else:
            first = max(size - int(end), 0)
        if first > last:
            file.close()
            return HttpResponse(status=416, headers={"Content-Range": f"bytes */{size}"})
    response = FileStream(file, first, last - first + 1, status=206 if partial else 200, content_type=kind)
    response.headers["Content-Length"] = str(last - first + 1)
    response.headers["Accept-Ranges"] = "bytes"
    response.headers["Content-Disposition"] = f'attachment; filename="{name}"'
    if partial:
        response.headers["Content-Range"] = f"bytes {first}-{last}/{size}"
    return response
