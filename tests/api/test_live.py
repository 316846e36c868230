"""The live channel: frames in order, readiness, rendering ahead while idle."""

import json
import struct

import pytest
from fastapi.testclient import TestClient

from tests.api.conftest import edited, wait_for
from wenditas.api.routes import live as module

HOST = {"host": "127.0.0.1:8610"}
PASS = {"id": "p", "name": "Saturation", "treatment": "saturation", "params": {"saturation": 40}}


def heard(socket) -> tuple[dict, bytes]:  # type: ignore[no-untyped-def]
    message = socket.receive()
    if message.get("bytes") is None:
        return json.loads(message["text"]), b""
    data = message["bytes"]
    length = struct.unpack(">I", data[:4])[0]
    return json.loads(data[4 : 4 + length]), data[4 + length :]


def ask(shot: dict, kind: str, **more: object) -> str:
    return json.dumps({"kind": kind, "id": 1, "revision": shot["revision"], "frame": 0, "width": 120, **more})


@pytest.fixture(autouse=True)
def impatient(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(module, "QUIET", 0.05)
    monkeypatch.setattr(module, "PAUSE", 0.02)


def test_played_frames_come_back_whatever_their_order(client: TestClient, shot: dict) -> None:
    view = edited(client, shot, [{"do": "add", "target": "look/passes", "value": PASS}]).json()
    with client.websocket_connect(f"/api/shots/{view['shot']['id']}/live", headers=HOST) as socket:
        wanted = [0, 1, 2, 14, 15, 3, 22]
        for n, frame in enumerate(wanted):
            socket.send_text(ask(view, "play", id=n, frame=frame, scope="histogram" if frame % 2 else None))
        found = {header["id"]: (header, data) for header, data in (heard(socket) for _ in wanted)}
    assert {n: found[n][0]["frame"] for n in found} == dict(enumerate(wanted))
    for header, data in found.values():
        assert data[:2] == b"\xff\xd8" and data[header["picture"] :][1:4] == (b"PNG" if header["frame"] % 2 else b"")


def test_idle_time_renders_ahead_and_an_edit_takes_it_back(client: TestClient, shot: dict) -> None:
    view = edited(client, shot, [{"do": "add", "target": "look/passes", "value": PASS}]).json()
    with client.websocket_connect(f"/api/shots/{view['shot']['id']}/live", headers=HOST) as socket:

        def ready(shown: dict) -> dict:
            socket.send_text(ask(shown, "ready", first=4, last=20, frame=10, scope="waveform", every=2))
            return heard(socket)[0]

        assert ready(view)["stretches"] == [] and ready(view)["more"]
        done = wait_for(lambda: (r := ready(view)) and not r["more"] and r)
        assert done["stretches"] == [[4, 20]] and done["proxy"]["state"] == "none"
        changed = edited(client, view, [{"do": "set", "target": f"look/passes/{PASS['id']}/amount", "value": 50}]).json()
        assert ready(changed)["stretches"] == []
        back = client.post(f"/api/shots/{view['shot']['id']}/undo", json={"base": changed["revision"]}).json()
        assert ready(back)["stretches"] == [[4, 20]]  # remembered by what it shows


def test_bad_frames_are_told_and_the_channel_goes_on(client: TestClient, shot: dict) -> None:
    with client.websocket_connect(f"/api/shots/{shot['shot']['id']}/live", headers=HOST) as socket:
        socket.send_text(ask(shot, "play", id=5, view="matte", selection="gone"))
        said, _ = heard(socket)
        assert said["kind"] == "error" and said["id"] == 5 and "gone" in said["message"]
        socket.send_text("{}")
        assert heard(socket)[0]["message"].startswith("Not understood")
        socket.send_text(ask(shot, "play", id=6))
        assert heard(socket)[0]["id"] == 6


def test_what_nobody_foresaw_is_told_too(client: TestClient, shot: dict, monkeypatch: pytest.MonkeyPatch) -> None:
    def broken(*args: object) -> bytes:
        raise RuntimeError("a fault of ours")

    for made in ("strip", "poster"):  # in the background; not with the fault below
        assert client.get(f"/api/footage/{shot['footage']['id']}/{made}.jpg").status_code == 200
    with client.websocket_connect(f"/api/shots/{shot['shot']['id']}/live", headers=HOST) as socket:
        with monkeypatch.context() as patch:
            patch.setattr("wenditas.render.scopes.encode_jpeg", broken)
            for n, kind in enumerate(("look", "play", "play", "play", "look")):
                socket.send_text(ask(shot, kind, id=n))
                assert heard(socket)[0] == {"kind": "error", "id": n, "message": "This picture could not be rendered."}
        for n, kind in enumerate(("play", "look")):
            socket.send_text(ask(shot, kind, id=n))
            assert heard(socket)[0]["kind"] == kind


def test_two_revisions_and_a_pass_alone_at_a_time(client: TestClient, shot: dict) -> None:
    """Comparing in motion asks for two revisions by turns."""
    one = edited(client, shot, [{"do": "add", "target": "look/passes", "value": PASS}]).json()
    two = edited(client, one, [{"do": "add", "target": "look/passes", "value": {**PASS, "id": "q", "treatment": "exposure", "params": {"stops": 2}}}]).json()
    with client.websocket_connect(f"/api/shots/{shot['shot']['id']}/live", headers=HOST) as socket:

        def picture(view: dict, **more: object) -> bytes:
            socket.send_text(ask(view, "play", frame=3, **more))
            return heard(socket)[1]

        first = [picture(shot), picture(one), picture(two), picture(two, alone="p"), picture(two, alone="q")]
        again = [picture(shot), picture(one), picture(two), picture(two, alone="p"), picture(two, alone="q")]
    assert first == again and first[1] == first[3] and len(set(first)) == 4


def test_messages_that_are_none_are_answered_and_the_channel_goes_on(client: TestClient, shot: dict, caplog: pytest.LogCaptureFixture) -> None:
    with client.websocket_connect(f"/api/shots/{shot['shot']['id']}/live", headers=HOST) as socket:
        socket.send_bytes(b"\x00\xff")
        assert "text, not bytes" in heard(socket)[0]["message"]
        for odd in (ask(shot, "look", **{"revision": 2**70}), ask(shot, "look", frame=10**400), "[]", "[" * 100_000, "{}", "\ud800"):
            socket.send_text(odd)
            assert heard(socket)[0]["kind"] == "error"
        socket.send_text(ask(shot, "look"))
        assert heard(socket)[0]["kind"] == "look"
    assert not [r for r in caplog.records if r.exc_info]
