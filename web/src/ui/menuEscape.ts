/** Escape closes an open menu also in the moment before the focus has come to it, and means nothing else then. */

/** The menu that is open and does not have the focus; one that is closing is none. */
function openMenuWithoutFocus(focus: EventTarget | null): Element | undefined {
  return [...document.querySelectorAll("[role=menu]")].find(
    (menu) =>
      !(focus instanceof Node && menu.contains(focus)) &&
      document.querySelector(`[aria-expanded=true][aria-controls="${menu.id}"]`),
  );
}

/** For the whole interface, once. A menu itself hears only keys that are pressed within it. */
export function hearEscapeOfMenus() {
  window.addEventListener(
    "keydown",
    (event) => {
      const menu = event.key === "Escape" ? openMenuWithoutFocus(event.target) : undefined;
      if (!menu) return;
      event.preventDefault();
      event.stopImmediatePropagation();
      menu.dispatchEvent(new KeyboardEvent("keydown", { key: "Escape", bubbles: true }));
    },
    { capture: true },
  );
}
