"""Who may talk to the server."""

import os
from pathlib import Path

import pytest
from fastapi.testclient import TestClient
from starlette.websockets import WebSocketDisconnect

from tests.api.conftest import BASE
from wenditas.api.app import create_app


def test_other_hosts_are_refused(client: TestClient) -> None:
    for host in (
        "evil.example",
        "127.0.0.1.evil.example",
        "evil.example:8610",
        "",
        "127.0.0.1:evil",
        "localhost:evil.example",
        "127.0.0.1:8610:evil",
        "[::1]:x",
    ):
        assert client.get("/api/projects", headers={"host": host}).status_code == 403
    for host in ("127.0.0.1:8610", "localhost:8610", "localhost", "[::1]:8610"):
        assert client.get("/api/projects", headers={"host": host}).status_code == 200


def test_other_origins_are_refused(client: TestClient) -> None:
    for origin in ("http://evil.example", "null", "http://127.0.0.1:9999", "https://evil.example:8610"):
        assert client.post("/api/projects", json={"name": "x"}, headers={"origin": origin}).status_code == 403
        assert client.get("/api/projects", headers={"origin": origin}).status_code == 403
    assert client.post("/api/projects", json={"name": "x"}, headers={"sec-fetch-site": "cross-site"}).status_code == 403
    assert client.post("/api/projects", json={"name": "x"}, headers={"origin": BASE}).status_code == 200


def test_live_channel_checks_the_origin(client: TestClient, shot: dict) -> None:
    path = f"/api/shots/{shot['shot']['id']}/live"
    with pytest.raises(WebSocketDisconnect), client.websocket_connect(path, headers={"host": "127.0.0.1:8610", "origin": "http://evil.example"}):
        pass
    with pytest.raises(WebSocketDisconnect), client.websocket_connect("/api/shots/nope/live", headers={"host": "127.0.0.1:8610"}) as socket:
        socket.receive_text()


def test_policy_allows_nothing_from_outside(client: TestClient) -> None:
    headers = client.get("/api/projects").headers
    policy = headers["content-security-policy"]
    assert "default-src 'none'" in policy and "http" not in policy and "*" not in policy and "script-src 'self';" in policy
    assert headers["x-content-type-options"] == "nosniff" and headers["referrer-policy"] == "no-referrer"


def test_nothing_outside_is_served(client: TestClient, tmp_path: Path) -> None:
    (tmp_path / "secret.txt").write_text("secret")
    for path in ("/../secret.txt", "/%2e%2e/secret.txt", "/assets/../../secret.txt", "/assets/%2e%2e%2f%2e%2e%2fapp.py", "/etc/passwd", "/api/nothing"):
        answer = client.get(path)
        assert "secret" not in answer.text and "root:" not in answer.text and "create_app" not in answer.text


def test_token_off_loopback(tmp_path: Path) -> None:
    app = create_app(tmp_path / "data", ("127.0.0.1", os.uname().nodename), "s3cret")
    with TestClient(app, base_url=BASE) as client:
        assert client.get("/api/projects").status_code == 403
        assert client.get("/api/projects", params={"token": "wrong"}).status_code == 403
        assert client.get("/api/projects", headers={"authorization": "Bearer s3cret"}).status_code == 200
        welcome = client.get("/", params={"token": "s3cret"}, follow_redirects=False)
        assert welcome.status_code == 303 and "HttpOnly" in welcome.headers["set-cookie"]
        assert client.get("/api/projects").status_code == 200  # the cookie is kept


def test_catalogue_publishes_every_declaration(client: TestClient) -> None:
    from wenditas.core.select.keys import KEYS
    from wenditas.core.treat import TREATMENTS

    catalogue = client.get("/api/catalogue").json()
    assert [t["id"] for t in catalogue["treatments"]] == list(TREATMENTS) and [k["id"] for k in catalogue["keys"]] == list(KEYS)
    for info in catalogue["treatments"]:
        for param in info["params"]:
            assert param["low"] < param["high"] and param["step"] > 0 and param["name"] and isinstance(param["animatable"], bool)
    assert catalogue["amount"]["unit"] == "%"
