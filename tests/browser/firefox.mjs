// The main job in Firefox, driven over WebDriver BiDi: pick, treat, play, export. What was seen is printed as JSON.
// node firefox.mjs URL FIREFOX
import { createRequire } from "node:module";

const puppeteer = createRequire(new URL("../../web/package.json", import.meta.url))("puppeteer-core");
const [url, executablePath] = process.argv.slice(2);
const LONG = 240_000; // machines that run tests are busy

const browser = await puppeteer.launch({ browser: "firefox", executablePath, headless: true, defaultViewport: { width: 1280, height: 800 }, args: ["--width=1280", "--height=800"] });
const seen = { problems: [] };
try {
  const page = await browser.newPage();
  page.on("pageerror", (error) => seen.problems.push(String(error)));
  page.on("console", (message) => message.type() === "error" && seen.problems.push(message.text()));
  /**
   * Until what is asked for is to be seen, asked once a painted frame. It is asked from outside: the library's own waiting makes a function
   * out of text within the page, which the page's policy forbids. What was missing is said, with what was there instead.
   */
  const until = async (what, seenThere, ...args) => {
    const deadline = Date.now() + LONG;
    while (!(await page.evaluate(seenThere, ...args))) {
      if (Date.now() > deadline) throw new Error(`Not seen within ${LONG / 1000} s: ${what}. ${await surroundings()}`);
      await page.evaluate(() => new Promise((painted) => requestAnimationFrame(painted)));
    }
  };
  const surroundings = () =>
    page.evaluate(() => {
      const names = [...document.querySelectorAll("button, a, [role=menuitem]")].map((e) => (e.getAttribute("aria-label") ?? e.textContent).trim() + (e.disabled ? " (disabled)" : ""));
      return `At ${location.pathname}; to be pressed: ${names.join(" | ")}; told: ${[...document.querySelectorAll("[role=alert], [role=status]")].map((e) => e.textContent).join(" | ")}`;
    });
  /** Click the first thing with that name, once it is there. */
  const press = async (name) => {
    const find = (wanted) => [...document.querySelectorAll("button, a, [role=menuitem]")].find((e) => (e.getAttribute("aria-label") ?? e.textContent).trim() === wanted && !e.disabled) ?? null;
    for (;;) {
      await until(`“${name}”, to be pressed`, (wanted) => [...document.querySelectorAll("button, a, [role=menuitem]")].some((e) => (e.getAttribute("aria-label") ?? e.textContent).trim() === wanted && !e.disabled), name);
      const found = (await page.evaluateHandle(find, name)).asElement(); // it may have gone between two looks
      if (found) return found.click();
    }
  };
  const settled = () => until("a picture at rest", () => document.querySelector("[data-settled=true]") !== null);
  /** The mean colour on screen around a place of the picture, 0-1. */
  const colour = (x, y) =>
    page.evaluate(
      (x, y) => {
        const canvas = document.querySelector("#picture canvas");
        const box = JSON.parse(canvas.dataset.place);
        const { data } = canvas.getContext("2d").getImageData(Math.round(box.x + x * box.width) - 2, Math.round(box.y + y * box.height) - 2, 5, 5);
        return [0, 1, 2].map((c) => data.filter((_, i) => i % 4 === c).reduce((a, b) => a + b) / 25);
      },
      x,
      y,
    );
  const click = async (x, y) => {
    const at = await page.evaluate(() => {
      const canvas = document.querySelector("#picture canvas");
      const { left, top } = canvas.getBoundingClientRect();
      const place = JSON.parse(canvas.dataset.place);
      return { left: left + place.x / devicePixelRatio, top: top + place.y / devicePixelRatio, width: place.width / devicePixelRatio, height: place.height / devicePixelRatio };
    });
    await page.mouse.click(at.left + x * at.width, at.top + y * at.height);
  };

  await page.goto(`${url}/`);
  await press("More for Tram up the hill.mp4");
  await press("Another shot of this");
  await until("the Bench", () => location.pathname.includes("/shots/"));
  await settled();
  seen.before = { tram: await colour(0.264, 0.79), sky: await colour(0.05, 0.1) };

  // Pick, and turn the rest grey.
  await page.keyboard.press("p");
  await click(0.264, 0.79);
  await press("Monochrome, outside");
  await until("two stages", () => document.querySelectorAll("ol[aria-label=Stages] img").length >= 2);
  await settled();
  seen.after = { tram: await colour(0.264, 0.79), sky: await colour(0.05, 0.1) };

  // Nothing is scrolled sideways, and the bars are thin.
  seen.sideways = await page.evaluate(() => [...document.querySelectorAll(".pane, ol[aria-label=Stages]")].filter((e) => e.scrollWidth > e.clientWidth + 1).map((e) => e.getAttribute("aria-label") ?? e.className));
  seen.bars = await page.evaluate(() => [...document.querySelectorAll(".pane")].map((e) => [getComputedStyle(e).scrollbarWidth, e.offsetWidth - e.clientWidth]));

  // A second of it, played from in to out, rendered first.
  for (const [frame, key] of [[48, "i"], [71, "o"]]) {
    await page.evaluate(() => document.querySelector("input[aria-label=Frame]").focus());
    await page.keyboard.type(String(frame));
    await page.keyboard.press("Enter");
    await page.keyboard.press(key);
  }
  await page.keyboard.press("y");
  await until("playing", () => document.querySelector("[aria-label='Pause (Space)']") !== null);
  const frames = await page.evaluate(
    () =>
      new Promise((done) => {
        const found = [];
        const look = () => {
          found.push(Number(document.querySelector("input[aria-label=Frame]").value));
          if (found.length < 120) requestAnimationFrame(look);
          else done(found);
        };
        look();
      }),
  );
  await page.keyboard.press(" ");
  await until("a pause", () => document.querySelector("[aria-label='Play (Space)']") !== null);
  seen.played = new Set(frames).size;

  // Export, and wait for the file.
  await press("Export");
  await until("the name of the export", () => document.querySelector("#export-name") !== null);
  await until("size and time of the export", () => /About/.test(document.querySelector("[role=dialog] [aria-label=About]")?.textContent ?? ""));
  seen.about = await page.evaluate(() => document.querySelector("[role=dialog] [aria-label=About]").textContent);
  await page.evaluate(() => {
    const field = document.querySelector("#export-name");
    field.focus();
    field.select();
  });
  await page.keyboard.type("By the fox");
  await page.keyboard.press("Enter");
  await until("no dialog", () => document.querySelector("[role=dialog]") === null);
  await press("See exports");
  await until("the export, ready", () => [...document.querySelectorAll("li")].some((e) => e.textContent.includes("By the fox") && e.textContent.includes("Ready")));
  seen.file = await page.evaluate(() => document.querySelector("a[download]").getAttribute("href"));
} finally {
  console.log(JSON.stringify(seen));
  await browser.close();
}
