/**
 * Keys that are pressed while an input method composes belong to it: Enter there takes a word, Escape lets it go, arrows
 * choose. No field or screen hears of them (UI Events, W3C, 5.3.2 `isComposing`; some browsers say 229 instead).
 */
export function leaveComposing() {
  addEventListener(
    "keydown",
    (event) => {
      if (event.isComposing || event.keyCode === 229) event.stopImmediatePropagation();
    },
    true,
  );
}
