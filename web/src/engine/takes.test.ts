import { describe, expect, it } from "vitest";

import type { Take } from "../api/types";
import { beside, nextName } from "./takes";

const take = (name: string, revision: number, created: string): Take => ({ id: name, document_id: "s", name, revision, created });
const TAKES = [take("Late", 9, "2026-11-26T10:00:00"), take("Early", 4, "2026-11-26T08:00:00"), take("Middle", 7, "2026-11-26T09:00:00")];

describe("takes", () => {
  it("are stepped through in the order in which they were made", () => {
    expect(beside(TAKES, 7, 1)?.name).toBe("Late");
    expect(beside(TAKES, 7, -1)?.name).toBe("Early");
    expect(beside(TAKES, 9, 1)).toBeNull();
    expect([beside(TAKES, 5, -1)?.name, beside(TAKES, 5, 1)?.name, beside([], 5, 1)]).toEqual(["Late", "Early", null]); // from a state that is none
  });

  it("are named by number, past names that are taken", () => {
    expect(nextName([])).toBe("Take 1");
    expect(nextName([{ name: "Night" }, { name: "Take 3" }])).toBe("Take 4");
  });
});
