import { type ReactNode, useState } from "react";
import { useIsSmall } from "../small";
import css from "./side.module.css";

export interface SidePart {
  name: string;
  label: ReactNode;
  content: ReactNode;
}

/** The panels beside a stage. In a small window they are tabs at its edge, and one at a time comes over the stage. */
export function Side({ parts, children }: { parts: readonly SidePart[]; children: ReactNode }) {
  const [open, setOpen] = useState("");
  if (!useIsSmall()) return <aside className={css.side}>{children}</aside>;
  const shown = parts.find(({ name }) => name === open);
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: Escape closes what is open, wherever in it the focus is
    <div
      className={css.folded}
      onKeyDown={(event) => {
        if (event.key !== "Escape" || !shown) return;
        event.stopPropagation();
        setOpen("");
      }}
    >
      {shown && <aside className={css.over}>{shown.content}</aside>}
      <div className={css.tabs} role="toolbar" aria-label="Panels" aria-orientation="vertical">
        {parts.map(({ name, label }) => (
          <button
            key={name}
            type="button"
            aria-expanded={name === open}
            onClick={() => setOpen(name === open ? "" : name)}
          >
            {label}
          </button>
        ))}
      </div>
    </div>
  );
}
