import { expect, it } from "vitest";
import { nextStep } from "./steps";

const whole = { openings: 6, filled: 6, stops: 0, exported: false };

it("says what is to be done next, by how the job stands: an undo goes back a step", () => {
  expect(nextStep({ ...whole, screen: "bench", filled: 1, stops: 6 })).toBe("fill");
  expect(nextStep({ ...whole, screen: "bench", stops: 1 })).toBe("mend");
  expect(nextStep({ ...whole, screen: "dispatch", stops: 1 })).toBe("mend");
  expect(nextStep({ ...whole, screen: "bench" })).toBe("dispatch");
  expect(nextStep({ ...whole, screen: "dispatch" })).toBe("export");
  expect(nextStep({ ...whole, screen: "bench", exported: true })).toBe("done");
  expect(nextStep({ ...whole, screen: "dispatch", exported: true, filled: 5 })).toBe("fill");
});
