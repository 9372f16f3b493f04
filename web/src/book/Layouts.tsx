import { ActionIcon, Button } from "@mantine/core";
import IconArrowsMaximize from "@tabler/icons-react/icons/IconArrowsMaximize";
import IconArrowsMinimize from "@tabler/icons-react/icons/IconArrowsMinimize";
import IconFlipVertical from "@tabler/icons-react/icons/IconFlipVertical";
import IconX from "@tabler/icons-react/icons/IconX";
import { useQuery } from "@tanstack/react-query";
import { type LayoutChoice, thumb } from "../api/client";
import { useChange } from "../editing/changes";
import { useBench } from "../editing/store";
import type { View } from "../editing/view";
import { t } from "../words";
import css from "./book.module.css";
import { choices, compose, current, give, type How } from "./layouts";

const FROM = {
  computed: t("Composed"),
  book: t("From this job"),
  shelf: t("From the shelf"),
} as const;
const HIGH = 84;
/** What is asked of the layout that the sheet has; of the photo selected, or of all. */
const CHANGES: readonly { how: How; label: string; Icon?: typeof IconX; ofPhoto?: boolean }[] = [
  { how: "mirror", label: t("Mirror layout"), Icon: IconFlipVertical },
  { how: "more_white_space", label: t("More white space"), Icon: IconArrowsMinimize },
  { how: "less_white_space", label: t("Less white space"), Icon: IconArrowsMaximize },
  { how: "larger", label: t("Make photo larger"), ofPhoto: true },
  { how: "smaller", label: t("Make photo smaller"), ofPhoto: true },
];

/** Opens and closes the layouts of the sheet in view. */
export function LayoutsButton({ state }: { state: View }) {
  const open = useBench((bench) => bench.layouts);
  const set = useBench((bench) => bench.set);
  if (!state.rows.length && !state.job.book) return null;
  return (
    <Button variant="default" size="compact-sm" aria-expanded={open} onClick={() => set({ layouts: !open })}>
      {t("Layouts")}
    </Button>
  );
}

/** Layouts that suit the photos on the sheet, drawn with them, in the place of the pile; what changes the one it has. */
export function Layouts({ state }: { state: View }) {
  const set = useBench((bench) => bench.set);
  const { edit } = useChange(state);
  const layouts = useQuery(choices(state));
  const all = layouts.data ?? [];
  const now = current(state, all);
  const selected = useBench((bench) => bench.selected);
  const photo = state.rows.find((row) => row.opening === selected)?.photo ?? "";
  const close = () => set({ layouts: false });
  return (
    <section className={css.layouts} aria-label={t("Layouts")}>
      <div className={css.layoutsBar}>
        <strong>{t("Layouts")}</strong>
        <span className={css.hint}>
          <kbd>L</kbd> {t("the next one")}
        </span>
        {CHANGES.filter(({ ofPhoto }) => photo || !ofPhoto).map(({ how, label, Icon, ofPhoto }) => (
          <Button
            key={how}
            size="compact-xs"
            variant="default"
            leftSection={Icon && <Icon size={14} />}
            onClick={() => compose(state, edit, { how, photo: ofPhoto ? photo : "" })}
          >
            {label}
          </Button>
        ))}
        <ActionIcon variant="default" aria-label={t("Close layouts")} onClick={close} ml="auto">
          <IconX size={16} />
        </ActionIcon>
      </div>
      <div className={css.strip}>
        {layouts.data && !all.length && (
          <p className={css.note}>{t("No other layout fits. Put photos on the sheet first.")}</p>
        )}
        {(["computed", "book", "shelf"] as const).map((source) => {
          const some = all.flatMap((choice, which) => (choice.source === source ? [{ choice, which }] : []));
          return (
            some.length > 0 && (
              <fieldset key={source}>
                <legend>{FROM[source]}</legend>
                {some.map(({ choice, which }) => (
                  <button
                    key={which}
                    type="button"
                    aria-pressed={which === now}
                    aria-label={t("Layout {number}, {name}", { number: which + 1, name: choice.name })}
                    title={choice.name}
                    onClick={() => give(state, all, which, edit)}
                  >
                    <Preview state={state} choice={choice} />
                  </button>
                ))}
              </fieldset>
            )
          );
        })}
      </div>
    </section>
  );
}

/** The sheet in a layout, with its photos. */
function Preview({ state, choice }: { state: View; choice: LayoutChoice }) {
  const { width_mm: wide, height_mm: high } = state.layout;
  return (
    <svg
      width={(HIGH * wide) / high}
      height={HIGH}
      viewBox={`0 0 ${wide} ${high}`}
      role="presentation"
      style={{ background: groundOf(state) }}
    >
      {choice.boxes.map((box, index) => {
        const [x, y, w, h] = box;
        const place = { x: x * wide, y: y * high, width: w * wide, height: h * high };
        const photo = state.photo.get(choice.photos[index] ?? "");
        return photo ? (
          <image key={box.join(" ")} {...place} href={thumb(photo)} preserveAspectRatio="xMidYMid slice" />
        ) : (
          <rect key={box.join(" ")} {...place} fill="#8d8d8d" />
        );
      })}
    </svg>
  );
}

/** The colour of the paper, or of what is laid under all. */
function groundOf({ layout }: View): string {
  const ground = layout.layers.find((layer) => layer.kind === "background");
  const colour = ground && "colour" in ground ? String(ground.colour) : "#ffffff";
  return colour.startsWith("#") ? colour : (layout.swatches?.[colour.replace(/^swatch /, "")] ?? "#ffffff");
}
