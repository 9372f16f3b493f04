// @vitest-environment happy-dom
import { expect, it, vi } from "vitest";
import { leaveComposing } from "./composing";

it("keys of an input method reach no field, others do", () => {
  leaveComposing();
  const field = document.body.appendChild(document.createElement("input"));
  const heard = vi.fn();
  field.addEventListener("keydown", heard);
  document.addEventListener("keydown", heard);
  addEventListener("keydown", heard, true); // as dialogs do
  const press = (more: KeyboardEventInit) =>
    field.dispatchEvent(new KeyboardEvent("keydown", { key: "Escape", bubbles: true, ...more }));
  press({ isComposing: true });
  press({ keyCode: 229 });
  expect(heard).not.toHaveBeenCalled();
  press({});
  expect(heard).toHaveBeenCalledTimes(3);
});
