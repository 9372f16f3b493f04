import { expect, test, vi } from "vitest";
import { isPending } from "../api/pending";
import { underWay } from "./underWay";

const said = vi.hoisted(() => vi.fn());
vi.mock("./complain", () => ({ complain: said }));

test("what is asked for before it becomes an edit counts as not stored until it has ended", async () => {
  let come = (_: string) => {};
  const ended = underWay(() => new Promise<string>((resolve) => (come = resolve)));
  expect(isPending()).toBe(true);
  come("found");
  expect(await ended).toBe("found");
  expect(isPending()).toBe(false);
});

test("what goes wrong is said, what was shown meanwhile is put back, and nothing is left pending", async () => {
  const failed = vi.fn();
  const trouble = new Error("The server did not answer. Try again.");
  expect(await underWay(() => Promise.reject(trouble), failed)).toBeUndefined();
  expect(said).toHaveBeenCalledExactlyOnceWith(trouble);
  expect(failed).toHaveBeenCalledOnce();
  expect(isPending()).toBe(false);
});
