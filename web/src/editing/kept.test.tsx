// @vitest-environment happy-dom
import { act, renderHook } from "@testing-library/react";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { isPending } from "../api/pending";
import { flush } from "./flushing";
import { useKept } from "./kept";

beforeEach(() => {
  vi.useFakeTimers();
});
afterEach(() => {
  vi.useRealTimers();
});

function typed() {
  const keep = vi.fn();
  const hook = renderHook(({ stored }) => useKept(stored, keep), { initialProps: { stored: 1 } });
  return { keep, hook };
}

describe("a value that is typed or slid", () => {
  it("is shown at once and kept a moment later, the last of a run", () => {
    const { keep, hook } = typed();
    act(() => hook.result.current.change(2));
    act(() => hook.result.current.change(3));
    expect(hook.result.current.shown).toBe(3);
    expect(isPending()).toBe(true);
    expect(keep).not.toHaveBeenCalled();
    act(() => void vi.advanceTimersByTime(200));
    expect(keep).toHaveBeenCalledExactlyOnceWith(3, expect.stringContaining("run-"));
    expect(isPending()).toBe(false);
    hook.rerender({ stored: 3 });
    expect(hook.result.current.shown).toBe(3);
  });
  it("is one gesture while it goes on, and another after a pause", () => {
    const { keep, hook } = typed();
    for (const [value, pause] of [
      [2, 300],
      [3, 2000],
      [4, 300],
    ] as const) {
      act(() => hook.result.current.change(value));
      act(() => void vi.advanceTimersByTime(pause));
    }
    const [first, second, third] = keep.mock.calls.map(([, gesture]) => gesture);
    expect(first).toBe(second);
    expect(third).not.toBe(first);
  });
  it("is sent before anything else, and when its field goes", () => {
    const { keep, hook } = typed();
    act(() => hook.result.current.change(5));
    act(() => flush());
    expect(keep).toHaveBeenCalledExactlyOnceWith(5, expect.any(String));
    act(() => hook.result.current.change(6));
    hook.unmount();
    expect(keep).toHaveBeenLastCalledWith(6, expect.any(String));
    act(() => void vi.advanceTimersByTime(1000));
    expect(keep).toHaveBeenCalledTimes(2);
  });
  it("is forgotten when dropped", () => {
    const { keep, hook } = typed();
    act(() => hook.result.current.change(5));
    act(() => hook.result.current.drop());
    act(() => void vi.advanceTimersByTime(1000));
    expect([keep.mock.calls.length, hook.result.current.shown, isPending()]).toEqual([0, 1, false]);
  });
});
