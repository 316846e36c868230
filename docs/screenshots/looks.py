"""`make screenshots`: each look of `docs/how-do-i.md` on a frame of the demo, as it was filmed on the left and with the look on the right."""

import subprocess
import sys
import tempfile
from pathlib import Path

import cv2
import numpy as np
from fastapi.testclient import TestClient

from wenditas.api.app import create_app

HERE = Path(__file__).parent / "looks"
WIDTH = 400  # of each half
FRAME = 60
# A look of the shelf, the footage that it is shown on, and where in the picture (0-1) what it asks for is picked, click by click.
LOOKS = {
    "one-colour-stays": ("Tram up the hill", [(0.27, 0.795)]),
    "colour-swap": ("Tram up the hill", [(0.27, 0.795)]),
    "two-tone-world": ("Umbrella in the rain", [(0.49, 0.46)]),
    "one-ink": ("Orchard path", []),
    "two-ink-print": ("Six awnings", []),
    "warm-tint": ("Orchard path", []),
    "heat-camera": ("The kiln", []),
    "poster-bands": ("The marionette", []),
    "day-for-night": ("Umbrella in the rain", []),
    "blood-red-sky": ("Tram up the hill", [(0.72, 0.07), (0.93, 0.3)]),
    "old-broadcast": ("Six awnings", []),
    "colours-return": ("Six awnings", []),
    "restless": ("The kiln", []),
}


def picture(client: TestClient, shot: str, revision: int, view: str) -> np.ndarray:
    """A frame of a shot, as the page has it."""
    answer = client.get(f"/api/shots/{shot}/pictures/{revision}/{FRAME}.png", params={"width": WIDTH, "view": view})
    assert answer.status_code == 200, answer.text
    return cv2.imdecode(np.frombuffer(answer.content, np.uint8), cv2.IMREAD_COLOR)


def both(client: TestClient, footage: str, look: str, places: list[tuple[float, float]]) -> np.ndarray:
    """A new shot of some footage, with and without the look."""
    shot = client.post(f"/api/footage/{footage}/shots").json()
    door = f"/api/shots/{shot['id']}"
    answer = client.post(f"{door}/dress", json={"base": shot["head"], "item": look, "selection": None}).json()
    revision = answer["view"]["revision"]
    for x, y in places:
        pick = {"base": revision, "frame": FRAME, "x": x, "y": y, "patch": 5, "selection": answer["selection"]}
        revision = client.post(f"{door}/picks", json=pick).json()["view"]["revision"]
    if len(places) > 1:
        (key,) = client.get(door).json()["document"]["look"]["selections"][0]["keys"]
        fit = {"base": revision, "selection": answer["selection"], "key": key["id"], "frame": FRAME, "sure": True}
        revision = client.post(f"{door}/fit", json=fit).json()["view"]["revision"]
    return np.hstack([picture(client, shot["id"], revision, view) for view in ("source", "result")])


def main() -> None:
    """Draw all of them."""
    HERE.mkdir(exist_ok=True)
    with tempfile.TemporaryDirectory() as folder:
        subprocess.run([Path(sys.executable).with_name("wenditas"), "demo", "--data", folder, "--prepare-only"], check=True)
        with TestClient(create_app(Path(folder)), base_url="http://127.0.0.1:8610") as client:
            project = client.get("/api/projects").json()[0]["id"]
            footage = {f["name"].split(".")[0]: f["id"] for f in client.get(f"/api/projects/{project}").json()["footage"]}
            for look, (name, places) in LOOKS.items():
                drawn = both(client, footage[name], look, places)
                cv2.imwrite(str(HERE / f"{look}.webp"), drawn, [cv2.IMWRITE_WEBP_QUALITY, 80])


if __name__ == "__main__":
    main()
