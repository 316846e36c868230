"""Preview copies: the same frames, smaller; for what moves only; never for exports and still pictures."""

import json
from fractions import Fraction
from pathlib import Path

import numpy as np
import pytest

from tests.api.conftest import wait_for
from tests.media.clips import make_clip
from tests.rendering import request as request_of
from wenditas.core.errors import Cancelled
from wenditas.core.look.document import Look
from wenditas.media import proxy as media
from wenditas.media.probe import inspect
from wenditas.media.proxy import decoding_rate, needed, open_proxy, write_proxy
from wenditas.media.reader import Reader, fit
from wenditas.project.arrivals import Arrivals
from wenditas.project.library import Library
from wenditas.render import proxies as module
from wenditas.render.pictures import Pictures
from wenditas.render.proxies import Proxies, ProxyState
from wenditas.store import projects
from wenditas.store.database import Database

CLIPS = {
    "h264 10 bit": dict(codec="libx264", pixel_format="yuv420p10le", width=400, height=300),
    "rgb, odd size": dict(codec="ffv1", pixel_format="bgr0", width=331, height=201),
    "wide pixels": dict(codec="mpeg4", width=360, height=288, aspect=Fraction(16, 15)),
    "601 full range": dict(codec="libx264", pixel_format="yuv444p", width=400, height=300, matrix=5, full_range=True),
}


@pytest.mark.parametrize("kind", CLIPS)
def test_frames_correspond(tmp_path: Path, monkeypatch: pytest.MonkeyPatch, kind: str) -> None:
    monkeypatch.setattr(media, "WIDTH", 160)
    path = make_clip(tmp_path / "c.mkv", **CLIPS[kind])  # type: ignore[arg-type]
    facts, index = inspect(path)
    reader, done = Reader(path, facts, index), []
    write_proxy(reader, tmp_path / "p.mov", lambda n, total: done.append((n, total)))
    assert done == [(n + 1, facts.length) for n in range(facts.length)]
    copy = open_proxy(tmp_path / "p.mov", facts)
    assert (copy.facts.width, copy.facts.height, copy.facts.length) == (160, round(facts.height * 160 / facts.width), facts.length)
    assert copy.index.keys.all() and len(copy.index.times) == facts.length
    size = fit(facts, 160)
    for n in (0, 7, 23, 3, 22, 11):
        apart = np.abs(copy.picture(n) - reader.picture(n, size))
        assert apart.mean() < 0.008 and np.quantile(apart, 0.999) < 0.08, n  # as near as JPEG is


def test_any_frame_of_a_copy_is_reached_without_those_before_it(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    path = make_clip(tmp_path / "c.mp4", count=48)
    facts, index = inspect(path)
    write_proxy(Reader(path, facts, index), tmp_path / "p.mov")
    copy = open_proxy(tmp_path / "p.mov", facts)
    passed: list[int] = []
    monkeypatch.setattr("wenditas.media.reader._keep", lambda frames, number, frame, most: passed.append(number))
    for n in (0, 20, 40):
        copy.frame(n)
    assert set(passed) == {0, 20, 40}


def test_who_needs_one() -> None:
    facts, _ = _facts()
    large = facts.model_copy(update={"width": 3840, "height": 2160})
    assert needed(large, 30) and not needed(large, 60)  # 24 frames a second want 48
    assert not needed(large.model_copy(update={"width": 1280}), 10) and not needed(large.model_copy(update={"kind": "still"}), 10)


def _facts():  # type: ignore[no-untyped-def]
    import tempfile

    with tempfile.TemporaryDirectory() as folder:
        return inspect(make_clip(Path(folder) / "c.mp4"))


def test_the_decoding_rate_is_counted(tmp_path: Path) -> None:
    facts, index = inspect(make_clip(tmp_path / "c.mp4"))
    assert 1 < decoding_rate(Reader(tmp_path / "c.mp4", facts, index)) < 1e5
    one, single = inspect(make_clip(tmp_path / "one.mp4", count=1))
    assert decoding_rate(Reader(tmp_path / "one.mp4", one, single)) == float("inf")


def test_a_cancelled_copy_stops(tmp_path: Path) -> None:
    facts, index = inspect(make_clip(tmp_path / "c.mp4"))
    done: list[int] = []
    with pytest.raises(Cancelled):
        write_proxy(Reader(tmp_path / "c.mp4", facts, index), tmp_path / "p.mov", lambda n, total: done.append(n), lambda: len(done) >= 5)
    assert done == [1, 2, 3, 4, 5]


@pytest.fixture
def opened(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> tuple[Library, str]:
    for where in (media, module):
        monkeypatch.setattr(where, "WIDTH", 160)
    library = Library(tmp_path / "data", Database(tmp_path / "w.db"))
    return library, Arrivals(library).copy_in(projects.add_project(library.db, "P").id, make_clip(tmp_path / "c.mp4"), "c.mp4").id


def test_what_moves_is_shown_from_the_copy_and_what_rests_from_the_original(opened: tuple[Library, str], monkeypatch: pytest.MonkeyPatch) -> None:
    library, id = opened
    monkeypatch.setattr(module, "decoding_rate", lambda reader: 3.0)
    proxies = Proxies(library)
    pictures, facts = Pictures(library, proxies), library.facts(id)
    request = request_of(library, id, Look(), 7, 120)
    assert proxies.state(id, facts).state == "none" and pictures.quick(request, "play") == request.but(moving=True)
    proxies.start()
    proxies.want(id, facts)
    wait_for(lambda: proxies.state(id, facts).state == "ready")
    proxies.stop()
    quick = pictures.quick(request, "play")
    assert quick.proxy and pictures.quick(request, "live").proxy
    moving, still = pictures.picture(quick, "play"), pictures.picture(request)
    assert moving.shape == still.shape and 0 < np.abs(moving - still).mean() < 0.01
    assert not pictures.quick(request, "live").proxy  # the original of this frame is at hand now
    assert pictures.quick(request, "play").proxy
    assert pictures.encoded(request, "png") == Pictures(library).encoded(request, "png")
    assert Proxies(library).state(id, facts).state == "ready"  # after a restart too


def test_fast_footage_gets_none_and_that_is_remembered(opened: tuple[Library, str], monkeypatch: pytest.MonkeyPatch) -> None:
    library, id = opened
    asked: list[float] = []
    monkeypatch.setattr(module, "decoding_rate", lambda reader: asked.append(1) or 900.0)  # type: ignore[func-returns-value]
    for _ in range(2):
        proxies = Proxies(library)
        proxies.start()
        proxies.want(id, library.facts(id))
        wait_for(lambda proxies=proxies: not proxies.coming(id))
        proxies.stop()
        assert proxies.state(id, library.facts(id)).state == "none" and proxies.reader(id, "play") is None
    assert len(asked) == 1


def test_footage_that_cannot_be_copied_plays_from_what_there_is_and_the_next_has_its_turn(
    opened: tuple[Library, str], tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    library, id = opened
    other = Arrivals(library).copy_in(library_project(library), make_clip(tmp_path / "d.mp4", count=12), "d.mp4").id
    monkeypatch.setattr(module, "decoding_rate", lambda reader: 3.0)
    library.cache_path(f"proxy-{id}.json").write_bytes(b"\xff{no note")  # unreadable: written anew
    library.cache_path(f"proxy-{id}.mov").mkdir()  # the copy cannot be put in its place
    proxies = Proxies(library)
    proxies._states.clear()
    proxies.start()
    for footage in (id, other):
        proxies._states[footage] = ProxyState(state="waiting")
        proxies._waiting.put(footage)
    wait_for(lambda: not proxies.coming(id) and not proxies.coming(other))
    proxies.stop()
    assert proxies.state(other, library.facts(other)).state == "ready" and json.loads(library.cache_path(f"proxy-{id}.json").read_text()) == {"needed": True}
    assert not list(library.cache_path("x").parent.glob("*.part*"))


def library_project(library: Library) -> str:
    return projects.all_projects(library.db)[0].id
