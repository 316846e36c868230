"""The room of the reel, for tests."""

import json
import urllib.request

from playwright.sync_api import Page, expect


class ReelPage:
    """The reel as a person sees it."""

    def __init__(self, page: Page, url: str) -> None:
        self.page, self.url = page, url

    @property
    def items(self):
        return self.page.get_by_label("Items").get_by_role("button")

    @property
    def chosen(self):
        return self.page.get_by_label("What is chosen")

    def state(self) -> dict:
        """The reel as the server has it."""
        project = self.page.url.split("/projects/")[1].split("/")[0]
        return json.load(urllib.request.urlopen(f"{self.url}/api/projects/{project}/reel"))

    def edit(self, state: dict, commands: list) -> None:
        """An edit from elsewhere, which comes to the page."""
        body = json.dumps({"base": state["revision"], "commands": commands, "words": "Elsewhere"}).encode()
        urllib.request.urlopen(urllib.request.Request(f"{self.url}/api/reels/{state['reel_id']}/edits", body, {"content-type": "application/json"}))

    def settled(self) -> None:
        self.page.wait_for_selector("[data-settled=true]", timeout=60_000)

    def stored(self) -> None:
        """Until nothing is on its way to the server."""
        expect(self.page.get_by_text("storing…")).to_have_count(0)

    def frame(self) -> int:
        return int(self.page.get_by_role("slider", name="Playhead").get_attribute("aria-valuenow"))
