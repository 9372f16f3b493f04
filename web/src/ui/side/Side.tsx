import { useElementSize, useLocalStorage } from "@mantine/hooks";
import { type ReactNode, useState } from "react";
import { t } from "../../words";
import { PulledEdge } from "../PulledEdge";
import { useIsSmall } from "../small";
import css from "./side.module.css";

export interface SidePart {
  name: string;
  label: ReactNode;
  content: ReactNode;
}

interface Sizes {
  /** px */
  width?: number;
  /** The share of the height that the lower part has; as much as it needs, up to two thirds, where none was chosen. */
  lower?: number;
}

const [NARROW, WIDE] = [280, 640];
const SHORT = 90;

/** The panels beside a stage, sized by lines that are pulled. In a small window they are tabs at its edge, and one at a time comes over the stage. */
export function Side({
  name,
  parts,
  head,
  upper,
  lower,
}: {
  /** Sizes are kept by it in this browser. */
  name: string;
  parts: readonly SidePart[];
  head?: ReactNode;
  upper: ReactNode;
  lower?: ReactNode;
}) {
  const [open, setOpen] = useState("");
  const [sizes, setSizes] = useLocalStorage<Sizes>({ key: `sutaru-side-${name}`, defaultValue: {} });
  const whole = useElementSize();
  const details = useElementSize();
  const isSmall = useIsSmall();
  if (!isSmall)
    return (
      <aside className={css.side} style={sizes.width ? { width: sizes.width } : undefined} ref={whole.ref}>
        <PulledEdge
          label={t("Width of the panels")}
          runs="down"
          size={whole.width}
          least={NARROW}
          most={Math.max(NARROW, Math.min(WIDE, innerWidth / 2))}
          onSize={(width) => setSizes({ ...sizes, width })}
          onReset={() => setSizes({ ...sizes, width: undefined })}
        />
        {head}
        <div className={css.upper}>{upper}</div>
        {lower && (
          <div
            className={css.lower}
            data-sized={sizes.lower ? "" : undefined}
            style={sizes.lower ? { flexBasis: `${100 * sizes.lower}%` } : undefined}
            ref={details.ref}
          >
            <PulledEdge
              label={t("Height of the details")}
              runs="across"
              size={details.height}
              least={SHORT}
              most={Math.max(SHORT, whole.height - SHORT - 40)}
              onSize={(high) => setSizes({ ...sizes, lower: high / (whole.height || 1) })}
              onReset={() => setSizes({ ...sizes, lower: undefined })}
            />
            {lower}
          </div>
        )}
      </aside>
    );
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
      <div className={css.tabs} role="toolbar" aria-label={t("Panels")} aria-orientation="vertical">
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
