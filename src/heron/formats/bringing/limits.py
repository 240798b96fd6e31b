"""How much of a file from elsewhere is read. Ours: what two cores and a browser take in good time."""

#: Bytes of a file, and of all that comes with it.
MOST_BYTES = 200 * 2**20
#: Triangles that are read at all, that stay in one set as they are, and that a lighter copy of it has.
MOST_DECODED, MOST_KEPT, LIGHTER = 4_000_000, 500_000, 250_000
#: Nodes of a tree, joints of a skeleton, and parts of a set that can be moved by themselves.
MOST_NODES, MOST_JOINTS, MOST_PARTS = 20_000, 400, 200
#: What a reading may take: bytes of memory, and seconds of a processor; for a lighter copy, and for a movie, more.
MEMORY, SECONDS, SECONDS_LIGHTER, SECONDS_MOVIE = 8 * 2**30, 40, 120, 600
MOVIES = (".mp4", ".m4v", ".mov")
#: Set in the environment of a process that may end by what it reads.
APART = "HERON_READS_APART"
#: Triangles of a character that stays quick to draw beside others, and of a lighter copy of one.
MOST_IN_CHARACTER, LIGHTER_CHARACTER = 60_000, 50_000


def seconds_for(name: str, lighter: bool) -> int:
    """How many seconds of a processor the reading of a file may take."""
    return SECONDS_MOVIE if name.lower().endswith(MOVIES) else SECONDS_LIGHTER if lighter else SECONDS
