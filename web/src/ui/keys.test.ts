// @vitest-environment happy-dom
import { expect, it, vi } from "vitest";
import { KEYS as BENCH } from "../bench/keys";
import { RETOUCH_KEYS } from "../bench/photoroom/retouch/keys";
import { PLAN_KEYS } from "../plan/keys";
import { TABLE_KEYS } from "../workshop/keys";
import { isTheControls, isTyping, type Key, key, meant, obey } from "./keys";

const pressed = (name: string, more = {}) => ({
  key: name,
  ctrlKey: false,
  metaKey: false,
  altKey: false,
  shiftKey: false,
  target: null,
  preventDefault: vi.fn(),
  ...more,
});

it.each<[string, readonly Key[]]>([
  ["bench", BENCH],
  ["workshop", TABLE_KEYS],
  ["retouching", RETOUCH_KEYS],
  ["plan", PLAN_KEYS],
])("a key has one meaning in a scope: %s", (_, table) => {
  const all = table.flatMap((entry) => entry.keys.map((one) => `${entry.scope} ${entry.held ?? ""} ${one}`));
  expect(all.filter((one, at) => all.indexOf(one) < at)).toEqual([]);
});

it("what is held with a key is part of it", () => {
  const table = [
    key("room", "ArrowUp", "Arrows", "up", "up"),
    key("room", "ArrowUp", "Alt arrows", "carry", "carry", "alt"),
    key("room", "z", "Ctrl Z", "undo", "undo", "ctrl"),
  ];
  const does = (name: string, more = {}) => meant(pressed(name, more), table, ["room"])?.does;
  expect([does("ArrowUp"), does("ArrowUp", { altKey: true })]).toEqual(["up", "carry"]);
  expect([does("z"), does("Z", { metaKey: true }), does("z", { ctrlKey: true })]).toEqual([
    undefined,
    "undo",
    "undo",
  ]);
});

it("a key is taken from the browser only where its command meant something", () => {
  const table = [key("room", "a", "A", "does", "does"), key("room", "b", "B", "does nothing", "not")];
  const commands = { does: () => undefined, not: () => false };
  const [a, b, c] = [pressed("a"), pressed("b"), pressed("c")];
  expect([a, b, c].map((event) => obey(event, meant(event, table, ["room"]), commands))).toEqual([
    true,
    false,
    false,
  ]);
  expect([a, b, c].map((event) => event.preventDefault.mock.calls.length)).toEqual([1, 0, 0]);
});

it("never takes typing for a key, nor the arrows of what has them", () => {
  document.body.innerHTML = `<input id="text"><input id="box" type="checkbox"><input id="radio" type="radio">
      <textarea id="area"></textarea><div role="dialog"><button id="inside"></button></div>
      <div role="slider" id="slider"></div><button id="button"></button>`;
  const at = (id: string) => document.getElementById(id);
  expect(["text", "area", "inside"].map((id) => isTyping(at(id)))).toEqual([true, true, true]);
  expect(["box", "radio", "slider", "button"].map((id) => isTyping(at(id)))).toEqual([
    false,
    false,
    false,
    false,
  ]);
  expect([isTheControls(at("slider"), "ArrowLeft"), isTheControls(at("slider"), "m")]).toEqual([true, false]);
  expect([isTheControls(at("button"), "Enter"), isTheControls(at("box"), "Enter")]).toEqual([true, false]);
});
