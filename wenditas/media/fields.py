"""Interlaced footage: whole frames out of fields that were filmed one after another."""

from collections.abc import Sequence

import av

BESIDE = 1  # frames before and after that the filter looks at


def deinterlaced(frames: Sequence[av.VideoFrame], at: int, field: int | None = None) -> av.VideoFrame:
    """One of some frames that follow one another, as it was at the time of its first field (0, or None), or of its second (1).

    Source: FFmpeg's bwdif (Weston three-field deinterlacing, with the interpolation of w3fdif and yadif's temporal check).
    """
    first = frames[0]
    graph = av.filter.Graph()
    source = graph.add_buffer(width=first.width, height=first.height, format=first.format, time_base=first.time_base)
    mode = "send_frame" if field is None else "send_field"
    filter, sink = graph.add("bwdif", f"mode={mode}:parity=auto:deint=all"), graph.add("buffersink")
    source.link_to(filter)
    filter.link_to(sink)
    graph.configure()
    for frame in frames:
        graph.push(frame)
    graph.push(None)
    wanted = at if field is None else 2 * at + field
    for _ in range(wanted):
        graph.pull()
    made: av.VideoFrame = graph.pull()
    return made
