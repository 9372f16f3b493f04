import { Button } from "@mantine/core";
import { spot, useChange } from "../../editing/jobs";
import { allSelected, useBench } from "../../editing/store";
import type { View } from "../../editing/view";
import css from "../side.module.css";

/** What can be done to several openings at once. */
export function SeveralPanel({ state }: { state: View }) {
  const { selected, also, set } = useBench();
  const { edit } = useChange(state);
  const openings = allSelected({ selected, also });
  const rows = state.rows.filter((row) => openings.includes(row.opening));
  const filled = rows.filter((row) => row.photo).map((row) => row.opening);
  const pinned = rows.every((row) => row.pinned);
  const [first = "", second = ""] = openings;
  const worked = (recipe: null) =>
    filled.forEach((opening) => {
      edit({ op: "mend_opening", opening, recipe }, { gesture: `plain-${openings.join()}` });
    });
  return (
    <section className={css.panel} aria-label={`${openings.length} openings`}>
      <h3>
        {openings.length} openings
        <small className="num">{rows.map((row) => row.number).join(", ")}</small>
      </h3>
      <div className={css.many}>
        <Button variant="default" onClick={() => edit({ op: "span", openings })}>
          Run one photo through them
        </Button>
        <Button
          variant="default"
          disabled={openings.length !== 2 || !filled.length}
          onClick={() =>
            edit({ op: "swap", first: spot(state, first), second: spot(state, second), keep_fit: false })
          }
        >
          Swap
        </Button>
        <Button
          variant="default"
          onClick={() =>
            edit({ op: "fill", how: "best", only_empty: false, sheet: state.sheet.id, openings })
          }
        >
          Fill these
        </Button>
        <Button
          variant="default"
          disabled={!filled.length}
          onClick={() => edit({ op: "keep_in_view", openings: filled })}
        >
          Bring into view
        </Button>
        <Button variant="default" onClick={() => edit({ op: "pin", openings, pinned: !pinned })}>
          {pinned ? "Unpin" : "Pin"}
        </Button>
        <Button
          variant="default"
          disabled={!filled.some((opening) => state.filling.tones?.[opening])}
          onClick={() => worked(null)}
        >
          Take mending off
        </Button>
        <Button
          variant="default"
          disabled={!filled.length}
          onClick={() => edit({ op: "clear", openings: filled })}
        >
          Clear
        </Button>
        <Button variant="subtle" onClick={() => set({ selected: undefined })}>
          Let go
        </Button>
      </div>
    </section>
  );
}
