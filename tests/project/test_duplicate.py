"""A project once more: the same pictures, and nothing that one does shows in the other."""

import json
from pathlib import Path

from fastapi.testclient import TestClient

from tests.api.conftest import BASE, send
from tests.media.clips import make_clip
from wenditas.api.app import create_app
from wenditas.store.whole import rows_of


def test_the_copy_shows_the_same_and_goes_its_own_way(tmp_path: Path) -> None:
    with TestClient(create_app(tmp_path / "data"), base_url=BASE) as client:
        project = client.post("/api/projects", json={"name": "Film"}).json()["id"]
        piece = send(client, project, make_clip(tmp_path / "a.mp4", count=6, sound="aac")).json()
        shot = client.post(f"/api/footage/{piece['id']}/shots").json()
        reel = client.get(f"/api/projects/{project}/reel").json()
        add = {"do": "add", "target": "items", "value": {"id": "i", "shot": shot["id"], "first": 1, "last": 4}}
        client.post(f"/api/reels/{reel['reel_id']}/edits", json={"base": reel["revision"], "commands": [add], "words": "one", "id": "e1"})

        made = client.post(f"/api/projects/{project}/duplicate").json()
        assert made["name"] == "Film, copy"
        assert client.post(f"/api/projects/{project}/duplicate").json()["name"] == "Film, copy 2"
        view, other = (client.get(f"/api/projects/{id}").json() for id in (project, made["id"]))
        assert [f["name"] for f in other["footage"]] == [f["name"] for f in view["footage"]]
        assert {f["id"] for f in other["footage"]} & {f["id"] for f in view["footage"]} == set()
        copy = client.get(f"/api/projects/{made['id']}/reel").json()
        assert copy["document"]["items"][0]["shot"] == other["shots"][0]["id"] != shot["id"]
        pictures = [client.get(f"/api/reels/{r['reel_id']}/pictures/{client.get('/api/reels/' + r['reel_id']).json()['revision']}/2.png") for r in (reel, copy)]
        assert [p.status_code for p in pictures] == [200, 200] and pictures[0].content == pictures[1].content

        before = json.dumps(rows_of(client.app.state.services.db, project), default=str)  # type: ignore[attr-defined]
        client.delete(f"/api/footage/{other['footage'][0]['id']}")
        client.post(
            f"/api/reels/{copy['reel_id']}/edits",
            json={"base": copy["revision"], "commands": [{"do": "remove", "target": "items/i"}], "words": "none", "id": "e2"},
        )
        assert json.dumps(rows_of(client.app.state.services.db, project), default=str) == before  # type: ignore[attr-defined]
        assert client.post("/api/projects/none/duplicate").status_code == 404
