import { expect, test } from "vitest";
import { day, deviceWords, whyNotIn } from "./people-words";

test.each([
  ["Mozilla/5.0 (X11; Linux x86_64; rv:140.0) Gecko/20100101 Firefox/140.0", "Firefox on Linux"],
  ["Mozilla/5.0 (Windows NT 10.0) AppleWebKit/537.36 Chrome/141.0 Safari/537.36", "Chromium on Windows"],
  ["Mozilla/5.0 (iPad; CPU OS 17_0 like Mac OS X) Version/17.0 Safari/605.1", "Safari on iOS"],
  ["watch on the drawing server", "watch on the drawing server"],
  ["", "an unknown device"],
])("%s", (device, words) => expect(deviceWords(device)).toBe(words));

test("days are told of other days, and minutes of today", () => {
  const now = new Date(2026, 4, 3, 12, 0);
  expect(day(new Date(2026, 4, 1, 9, 5).toISOString(), now)).toBe("2026-05-01");
  expect(day(new Date(2026, 4, 3, 9, 5).toISOString(), now)).toBe("09:05");
});

test("the address says why somebody did not come in, in our words alone", () => {
  expect(whyNotIn("")).toBe("");
  expect(whyNotIn("?way=closed")).toContain("is closed");
  expect(whyNotIn("?way=call+this+number")).not.toContain("call");
});
