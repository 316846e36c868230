"""Addresses, cookies, numbers and bodies of any kind: answered with a sentence, or not at all; never with a fault."""

import cProfile
import json
import random
from pathlib import Path

import pytest
from fastapi.testclient import TestClient
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from tests.api.conftest import edited
from wenditas.api.app import create_app
from wenditas.api.security import HEADERS
from wenditas.core.errors import BadFile
from wenditas.formats.gradients import read_gradient

HUGE = 10**30


def test_a_wildcard_server_is_reached_by_the_address_that_was_used(tmp_path: Path) -> None:
    """`--host 0.0.0.0`: any of the machine's addresses, with the token; names that were rebound to it are still refused."""
    app = create_app(tmp_path / "data", ("127.0.0.1", "localhost", "[::1]"), "s3cret")
    key = {"authorization": "Bearer s3cret"}
    for server, host in (("192.0.2.7", "192.0.2.7:8610"), ("2001:db8::5", "[2001:db8::5]:8610"), ("::ffff:192.0.2.7", "192.0.2.7")):
        with TestClient(app, base_url=f"http://{f'[{server}]' if ':' in server else server}:8610") as client:
            assert client.get("/api/projects", headers={**key, "host": host}).status_code == 200, host
            assert client.get("/api/projects", headers={"host": host}).status_code == 403
            for other in ("evil.example:8610", "192.0.2.8:8610", "[2001:db8::6]", "192.0.2.7.evil.example", "[", "]", ":", "[::]:1"):
                assert client.get("/api/projects", headers={**key, "host": other}).status_code == 403, other


def test_odd_cookies_neither_break_nor_lock_out(tmp_path: Path) -> None:
    others = ("wenditas-token-8610=wrong; ", "wenditas-token=s3cret; ", "wenditas-token-8611=s3cret; ")  # the last of another server on this machine
    with TestClient(create_app(tmp_path / "data", token="s3cret"), base_url="http://127.0.0.1:8610") as client:
        for odd in ('a[1]="x"; ', "b@d=1; ", '"; ', "=; ;; ", *others, "\xe9t\xe9=1; "):
            for cookie in (f"{odd}wenditas-token-8610=s3cret", f'wenditas-token-8610="s3cret"; {odd}'):
                assert client.get("/api/projects", headers={"cookie": cookie.encode("latin-1")}).status_code == 200, cookie
            assert client.get("/api/projects", headers={"cookie": odd.encode("latin-1")}).status_code == 403


def test_the_way_in_never_leads_outside(tmp_path: Path) -> None:
    with TestClient(create_app(tmp_path / "data", token="s3cret"), base_url="http://127.0.0.1:8610") as client:
        for path in ("//elsewhere.example/", "/\\elsewhere.example/", "///elsewhere.example", "//elsewhere.example/%2f..", "/projects/a"):
            answer = client.request("GET", f"http://127.0.0.1:8610{path}?token=s3cret&x=1%262", follow_redirects=False)
            location = answer.headers["location"]
            assert answer.status_code == 303 and location.startswith("/") and not location.startswith(("//", "/\\")) and location.endswith("?x=1%262"), location
            assert all(answer.headers[k] == v for k, v in HEADERS.items())


def test_refusals_carry_the_same_headers(client: TestClient) -> None:
    for headers in ({"host": "evil.example"}, {"origin": "http://evil.example"}):
        answer = client.get("/api/projects", headers=headers)
        assert answer.status_code == 403 and all(answer.headers[k] == v for k, v in HEADERS.items())
    large = client.post("/api/projects", content=b"x", headers={"content-length": "99999999999"})
    assert large.status_code == 413 and all(large.headers[k] == v for k, v in HEADERS.items())


def test_numbers_of_any_size_in_any_address(client: TestClient, shot: dict) -> None:
    """Every GET address of the API, with numbers that no frame or revision has."""
    known = {"shot_id": shot["shot"]["id"], "footage_id": shot["footage"]["id"], "project_id": "p", "kind": "png", "treatment": "monochrome", "item": "one-ink"}
    paths = client.get("/api/openapi.json").json()["paths"]
    for path, methods in paths.items():
        if "get" not in methods or path == "/api/events":
            continue
        for number in (HUGE, -HUGE, -1, 10**9):
            filled = path
            for parameter in methods["get"].get("parameters", []):
                name = parameter["name"]
                filled = filled.replace(f"{{{name}}}", str(known.get(name, number)))
            for extra in ({}, {"width": number, "upto": number, "selection": "s"}):
                answer = client.get(filled, params=extra)
                assert answer.status_code < 500, (filled, answer.text)
                if answer.status_code >= 400:
                    assert answer.json()["message"], filled


def test_unknown_keys_are_said(client: TestClient, shot: dict) -> None:
    body = {"base": shot["revision"], "commands": [], "words": "x", "wrods": "y"}
    answer = client.post(f"/api/shots/{shot['shot']['id']}/edits", json=body)
    assert answer.status_code == 422 and "wrods" in answer.json()["message"]


BODIES = {
    "not JSON": b"{",
    "nested": b"[" * 100_000,
    "nested object": b'{"a":' * 50_000,
    "half a pair": b'{"name": "\\ud800"}',
    "infinite": b'{"base": 1e999, "commands": [], "words": "x"}',
    "a very long number": b'{"base": ' + b"9" * 10_000 + b', "commands": []}',
    "not UTF-8": b'{"name": "\xff\xfe"}',
    "nothing": b"",
}


@pytest.mark.parametrize("body", BODIES)
def test_bodies_of_any_kind(client: TestClient, shot: dict, body: str) -> None:
    for method, path in (("POST", "/api/projects"), ("POST", f"/api/shots/{shot['shot']['id']}/edits"), ("PATCH", f"/api/shots/{shot['shot']['id']}")):
        answer = client.request(method, path, content=BODIES[body], headers={"content-type": "application/json"})
        assert 400 <= answer.status_code < 500 and answer.json()["message"], answer.text
    assert client.get(f"/api/shots/{shot['shot']['id']}").status_code == 200


def test_large_bodies_are_refused_before_they_are_read(client: TestClient) -> None:
    def endless():  # type: ignore[no-untyped-def]
        for _ in range(64):
            yield b" " * (1 << 20)

    for content in (endless(), b" " * (9 << 20)):
        answer = client.post("/api/projects", content=content)
        assert answer.status_code == 413 and "8 MiB" in answer.json()["message"]


def test_edits_are_bounded(client: TestClient, shot: dict) -> None:
    value = {"id": "u", "name": "U", "treatment": "from-a-newer-version", "params": {"list": [1, 2]}}
    add = {"do": "add", "target": "look/passes", "value": value}
    deep = [{"do": "set", "target": f"look/passes/u/params{'/a' * n}", "value": {}} for n in range(1, 200)]
    many = [{"do": "set", "target": "first", "value": 0}] * 501
    wide = [{"do": "set", "target": "look/passes/u/params/list", "value": list(range(40_000))}] * 12
    for commands, says in ((deep, "cannot change"), (many, "500 commands"), (wide, "more than")):
        answer = edited(client, shot, [add, *commands])
        assert answer.status_code == 422 and says in answer.json()["message"], answer.text
    assert client.get(f"/api/shots/{shot['shot']['id']}").json() == shot


def odd(depth: int = 3) -> st.SearchStrategy:
    text = st.text(st.characters(), max_size=6)  # also halves of pairs
    leaves = st.one_of(st.none(), st.booleans(), st.integers(), st.floats(), text)
    return st.recursive(leaves, lambda inner: st.one_of(st.lists(inner, max_size=4), st.dictionaries(text, inner, max_size=4)), max_leaves=12)


@settings(max_examples=120, deadline=None, suppress_health_check=list(HealthCheck))
@given(odd(), odd(), st.text(st.characters(), min_size=1, max_size=8))
def test_whatever_is_stored_can_be_read_again(stored: tuple[TestClient, dict], params: object, value: object, name: str) -> None:
    """A pass of a treatment that is not known here, with any parameters and keyframes: refused, or kept to the letter, on the shot and on the shelf."""
    client, state = stored
    item = {"id": "u", "name": name, "treatment": "from-a-newer-version", "params": params if isinstance(params, dict) else {"it": params}}
    lane = {"target": "passes/u/params/it", "keyframes": [{"frame": 0, "value": value}]}
    patch = [{"do": "set", "target": "look/passes", "value": [item]}, {"do": "set", "target": "look/lanes", "value": [lane]}]
    body = json.dumps({"base": state["revision"], "commands": patch, "words": name})
    answer = client.post(f"/api/shots/{state['id']}/edits", content=body, headers={"content-type": "application/json"})
    assert answer.status_code in (200, 422), answer.text
    view = client.get(f"/api/shots/{state['id']}")
    assert view.status_code == 200
    if answer.status_code == 200:
        state["revision"] = view.json()["revision"]
        look = view.json()["document"]["look"]
        assert look["passes"][0]["params"] == item["params"] and look["lanes"][0]["keyframes"][0]["value"] == value
        saved = client.post("/api/shelf", json={"shot": state["id"], "revision": state["revision"], "name": "S"})
        assert saved.status_code == 200 and client.get("/api/shelf").status_code == 200
        assert client.get(f"/api/shots/{state['id']}/look.json").status_code == 200
        client.delete(f"/api/shelf/{saved.json()['id']}")


@pytest.fixture
def stored(client: TestClient, shot: dict) -> tuple[TestClient, dict]:
    return client, {"id": shot["shot"]["id"], "revision": shot["revision"]}


GRADIENTS = [
    "linear-gradient(rgb(" + " " * 20_000,
    "linear-gradient(" * 8_000,
    "linear-gradient(red" + " 5%" * 20_000 + ")",
    "linear-gradient(rgb(" + "1 " * 20_000,
]
GRADIENTS += ["<svg>" * 4_000, "<svg><linearGradient>" + "<stop/>" * 9_000, "linear-gradient(" + "," * 60_000 + ")", "linear-gradient(" + "(" * 60_000 + ")"]


@pytest.mark.parametrize("number", range(len(GRADIENTS)))
def test_gradients_are_read_in_linear_time(client: TestClient, number: int) -> None:
    """Calls are counted, not seconds: the parser looks at each character a bounded number of times."""
    text = GRADIENTS[number]
    profile = cProfile.Profile()
    with pytest.raises(BadFile):
        profile.runcall(read_gradient, text)
    profile.create_stats()
    assert sum(entry[1] for entry in profile.stats.values()) <= 12 * len(text) + 200  # type: ignore[attr-defined]
    answer = client.post("/api/gradients/read", json={"text": text})
    assert answer.status_code == 422 and answer.json()["message"]


def test_random_garbage_in_text_formats_is_answered(client: TestClient) -> None:
    chance = random.Random(4)
    for _ in range(60):
        text = "".join(chance.choice("linear-gradient(rgb#%,) <svgstop/>0123456789\n\t\"'&;") for _ in range(chance.randint(0, 300)))
        for path in ("/api/gradients/read", "/api/decision-lists/read"):
            assert client.post(path, json={"text": text}).status_code in (200, 422)
