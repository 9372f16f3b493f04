import IconLink from "@tabler/icons-react/icons/IconLink";
import IconPinFilled from "@tabler/icons-react/icons/IconPinFilled";
import { useEffect, useRef } from "react";
import type { Row, Text } from "../api/client";
import { useBench } from "../editing/store";
import { leaves, type View } from "../editing/view";
import { printedWords } from "../lettering/useWords";
import { fixed, percent, trimmed } from "../ui/format";
import { Mark } from "../ui/Mark";
import { usePicked } from "../ui/usePicked";
import { t } from "../words";
import { usePutDown } from "./pile/hand";
import css from "./side.module.css";

/** The numbered list of openings with what was measured of each; the words of the page below them. */
export function Ledger({ state }: { state: View }) {
  const { selected, also, part, set } = usePicked(useBench, "selected", "also", "part", "set");
  const putDown = usePutDown(state);
  const body = useRef<HTMLTableSectionElement>(null);
  const texts = leaves(state.layout).filter((layer): layer is Text => layer.kind === "text");
  // biome-ignore lint/correctness/useExhaustiveDependencies: the row to show follows the selection, and the room left for it
  useEffect(() => {
    const frame = requestAnimationFrame(() =>
      body.current?.querySelector("[data-selected]")?.scrollIntoView({ block: "nearest" }),
    );
    return () => cancelAnimationFrame(frame);
  }, [selected, part]);

  const choose = (row: Row, more: boolean) => {
    if (more && selected && selected !== row.opening) {
      const others = also.includes(row.opening)
        ? also.filter((opening) => opening !== row.opening)
        : [...also, row.opening];
      set({ selected, also: others });
      return;
    }
    putDown(row.opening);
    set({ selected: row.opening });
  };

  return (
    <div className={css.scroll}>
      <table className={`${css.ledger} num`} aria-label={t("Ledger")}>
        <thead>
          <tr>
            <th aria-label={t("Status")} />
            <th>{t("No")}</th>
            <th className={css.left}>{t("Photo")}</th>
            <th>{t("Zoom")}</th>
            <th>{t("Turn")}</th>
            <th>{t("ppi")}</th>
            <th>{t("Cut")}</th>
          </tr>
        </thead>
        <tbody ref={body}>
          {state.rows.map((row) => {
            const photo = state.photo.get(row.photo ?? "");
            return (
              <tr
                key={row.opening}
                data-selected={selected === row.opening || also.includes(row.opening) || undefined}
                onClick={(event) => choose(row, event.shiftKey || event.ctrlKey || event.metaKey)}
              >
                <td>
                  <Mark status={row.status} />
                </td>
                <td>
                  <button
                    type="button"
                    className={css.plain}
                    aria-label={t("Go to opening {number}", { number: row.number })}
                  >
                    {row.number}
                  </button>
                </td>
                <td className={css.name} title={photo?.name}>
                  {row.pinned && <IconPinFilled size={11} aria-label={t("pinned")} className={css.pin} />}
                  {row.span && <IconLink size={11} aria-label={t("part of a span")} className={css.pin} />}
                  {photo ? photo.name.replace(/\.[^.]+$/, "") : t("empty")}
                  {row.distortion > 1.005 && (
                    <small title={t("How far the opening stretches its photo")}>
                      {" "}
                      {fixed(row.distortion, 2)} : 1
                    </small>
                  )}
                </td>
                <td>{row.placement ? fixed(row.placement.zoom, 2) : ""}</td>
                <td>{row.placement ? `${trimmed(row.placement.turn_deg, 1)}°` : ""}</td>
                <td>{row.ppi ? Math.round(row.ppi) : ""}</td>
                <td>{photo ? percent(row.crop_share ?? 0) : ""}</td>
              </tr>
            );
          })}
        </tbody>
      </table>
      {texts.length > 0 && (
        <ul className={css.words} aria-label={t("Words")}>
          {texts.map((text) => (
            <li key={text.id} data-selected={selected === text.id || undefined}>
              <button type="button" className={css.plain} onClick={() => set({ selected: text.id })}>
                <span className={css.kind}>{text.name || t("words")}</span>
                {printedWords(state, text) || <em>{t("not written yet")}</em>}
              </button>
            </li>
          ))}
        </ul>
      )}
    </div>
  );
}
