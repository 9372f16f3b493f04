// @vitest-environment happy-dom
import { MantineProvider } from "@mantine/core";
import { act, cleanup, fireEvent, render, screen } from "@testing-library/react";
import { afterEach, beforeAll, describe, expect, it, vi } from "vitest";
import { pending } from "../api/pending";
import { MonthField } from "./MonthField";
import { figure, NumberField } from "./NumberField";
import { useTyped } from "./typed";
import { length, type Unit, UnitContext } from "./units";

beforeAll(() => {
  vi.stubGlobal("matchMedia", () => ({
    matches: false,
    addEventListener: () => {},
    removeEventListener: () => {},
  }));
});
afterEach(cleanup);

function field(
  value: number,
  more: { unit?: string; min?: number; max?: number; step?: number; late?: boolean } = {},
  unit: Unit = "mm",
) {
  const keep = vi.fn();
  render(
    <MantineProvider env="test">
      <UnitContext value={unit}>
        <NumberField label="Width" value={value} step={0.1} {...more} onKeep={keep} />
      </UnitContext>
    </MantineProvider>,
  );
  const input = screen.getByRole("textbox") as HTMLInputElement;
  const type = (text: string) => fireEvent.change(input, { target: { value: text } });
  const press = (key: string, more = {}) => fireEvent.keyDown(input, { key, ...more });
  return { keep, input, type, press };
}

describe("figures as people type them", () => {
  it.each([
    ["0.5", 0.5], ["120", 120], ["-12.5", -12.5], ["1,5", 1.5], [".5", 0.5], ["5.", 5], [" 7 ", 7], ["−3", -3], ["+2", 2], ["１２．５", 12.5], ["－３，５", -3.5],
  ])("%s is %d", (text, value) => expect(figure(text)).toBe(value)); // biome-ignore format: a table
  it.each(["", "-", "1.2.3", "abc", "1e5", "1 000", "--2", "0x10"])("%s is none", (text) =>
    expect(figure(text)).toBeUndefined(),
  );
});

describe("a number field", () => {
  it("keeps nothing while it is typed in, and what was typed on Enter", () => {
    const { keep, type, press, input } = field(3);
    for (const text of ["", "0", "0.", "0.5"]) type(text);
    expect(keep).not.toHaveBeenCalled();
    expect(input.value).toBe("0.5");
    press("Enter");
    expect(keep).toHaveBeenCalledExactlyOnceWith(0.5);
  });
  it("shows what was kept while it is on its way, and steps on from there; what was stored after that", () => {
    const under: (() => void)[] = [];
    const { keep, type, press, input } = field(3, { step: 1, late: true });
    keep.mockImplementation(() => void under.push(pending()));
    type("80");
    press("Enter");
    expect(input.value).toBe("80");
    press("ArrowUp");
    press("ArrowUp");
    expect(keep.mock.calls).toEqual([[80], [81], [82]]);
    expect(input.value).toBe("82");
    act(() => { for (const stored of under) stored(); }); // biome-ignore format: short
    expect(input.value).toBe("3"); // refused: it is as it was
  });
  it.each([
    ["13,2", {}, 13],
    ["12.6", {}, 13],
    ["12.6", { unit: "%" }, 12.6],
    ["12.6", { step: 0.1 }, 12.6],
  ])("%s with %j is kept as %d", (text, more, kept) => {
    const { keep, type, press } = field(3, { step: 1, ...more });
    type(text);
    press("Enter");
    expect(keep).toHaveBeenCalledExactlyOnceWith(kept);
  });
  it("keeps on leaving; cleared or not a number, it stays as it was; Escape takes typing back", () => {
    const { keep, type, press, input } = field(3);
    type("12,5");
    fireEvent.blur(input);
    expect(keep).toHaveBeenCalledExactlyOnceWith(12.5);
    for (const text of ["", "wide"]) {
      type(text);
      fireEvent.blur(input);
    }
    type("9");
    press("Escape");
    fireEvent.blur(input);
    expect(keep).toHaveBeenCalledOnce();
    expect(input.value).toBe("3");
  });
  it("goes to the nearest it may be, and steps by arrows", () => {
    const { keep, type, press } = field(3, { min: 0.5, max: 30 });
    type("300");
    press("Enter");
    type("-1");
    press("Enter");
    press("ArrowUp");
    press("ArrowDown", { shiftKey: true });
    expect(keep.mock.calls.flat()).toEqual([30, 0.5, 3.1, 2]);
  });
  it("shows and takes lengths in the job's unit", () => {
    const { keep, type, press, input } = field(25.4, { unit: "mm" }, "in");
    expect(input.value).toBe("1");
    expect(screen.getByLabelText("Width in")).toBe(input);
    type("0.5");
    press("Enter");
    expect(keep).toHaveBeenCalledExactlyOnceWith(12.7);
    expect([length(25.4, "cm"), length(3.175, "in"), length(12.34, "mm")]).toEqual([
      "2.54 cm",
      "0.125 in",
      "12.3 mm",
    ]);
  });
});

describe("what is typed and not kept yet", () => {
  it("is kept when a press goes where presses take no focus, once", () => {
    const { keep, input, type } = field(10);
    type("12,5");
    fireEvent.pointerDown(input);
    expect(keep).not.toHaveBeenCalled();
    fireEvent.pointerDown(document.body);
    fireEvent.blur(input);
    expect(keep).toHaveBeenCalledExactlyOnceWith(12.5);
  });
  it("is kept when its field goes; what Escape took back is not", () => {
    const { keep, type } = field(10);
    type("14");
    cleanup();
    expect(keep).toHaveBeenCalledExactlyOnceWith(14);
    const other = field(10);
    other.type("15");
    other.press("Escape");
    cleanup();
    expect(other.keep).not.toHaveBeenCalled();
  });
});

describe("a month", () => {
  it("is kept when it is left, if all of it was said", () => {
    const keep = vi.fn();
    render(
      <MantineProvider env="test">
        <MonthField label="From" value="2027-01" onKeep={keep} />
      </MantineProvider>,
    );
    const input = screen.getByLabelText("From");
    fireEvent.change(input, { target: { value: "2027-06" } });
    cleanup();
    expect(keep).toHaveBeenCalledExactlyOnceWith("2027-06");
  });
});

function Line({ stored, keep }: { stored: string; keep: (typed: string) => void }) {
  const { field } = useTyped(stored, keep);
  return <input aria-label="Line" {...field} />;
}

describe("a line of words", () => {
  it("shows what others store while nobody types, and is not stored again by a press elsewhere", () => {
    const keep = vi.fn();
    const shown = render(<Line stored="" keep={keep} />);
    shown.rerender(<Line stored="Final" keep={keep} />);
    const input = screen.getByLabelText("Line") as HTMLInputElement;
    expect(input.value).toBe("Final");
    fireEvent.pointerDown(document.body);
    fireEvent.blur(input);
    expect(keep).not.toHaveBeenCalled();
    fireEvent.change(input, { target: { value: " Final, once more " } });
    fireEvent.pointerDown(document.body);
    fireEvent.blur(input);
    expect(keep).toHaveBeenCalledExactlyOnceWith("Final, once more");
  });
});
