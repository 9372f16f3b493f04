/**
 * Escape closes a tooltip and still means what it means on the screen. What shows tooltips hears the key at the document,
 * before anything else does, and lets nobody else hear it.
 */
export function hearEscapeBesideTooltips() {
  window.addEventListener(
    "keydown",
    (event) => {
      if (event.key !== "Escape" || !document.querySelector("[role=tooltip]")) return;
      event.stopPropagation = () => {
        if (event.currentTarget !== document) Event.prototype.stopPropagation.call(event);
      };
    },
    { capture: true },
  );
}
