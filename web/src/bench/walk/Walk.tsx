import { Button, Menu } from "@mantine/core";
import IconChevronDown from "@tabler/icons-react/icons/IconChevronDown";
import { thumb } from "../../api/client";
import { useChange } from "../../editing/changes";
import { useBench } from "../../editing/store";
import type { View } from "../../editing/view";
import { complain, say } from "../../ui/complain";
import { useUnit } from "../../ui/units";
import { usePicked } from "../../ui/usePicked";
import { t, tn } from "../../words";
import { useEditions } from "../Editions";
import css from "./walk.module.css";
import { goOn, openingsOf, startTour, startWalk, useRanked, whereIn } from "./walking";

/** Begins a walk: through all openings, or only those that something was found of. */
export function WalkButton({ state }: { state: View }) {
  const { walk, selected, set } = usePicked(useBench, "walk", "selected", "set");
  const editions = useEditions(state);
  const tour = () =>
    startTour(
      state,
      editions.map(({ id }) => id),
    ).then((count) => {
      if (!count) say(t("No finding in any edition needs checking."));
    }, complain);
  const doubtful = openingsOf(state, "findings").length;
  if (walk)
    return (
      <Button variant="filled" onClick={() => set({ walk: undefined })}>
        {t("End the walk")}
      </Button>
    );
  return (
    <Button.Group>
      <Button
        variant="default"
        disabled={!state.rows.length}
        title={t("From opening to opening, close up (Enter)")}
        onClick={() => startWalk(state, "all", selected)}
      >
        {t("Walk")}
      </Button>
      <Menu position="bottom-end">
        <Menu.Target>
          <Button variant="default" px={6} aria-label={t("Other ways to walk")} disabled={!state.rows.length}>
            <IconChevronDown size={14} />
          </Button>
        </Menu.Target>
        <Menu.Dropdown>
          <Menu.Item onClick={() => startWalk(state, "all", selected)}>
            {t("Through all openings, sheet by sheet")}
          </Menu.Item>
          <Menu.Item disabled={!doubtful} onClick={() => startWalk(state, "findings")}>
            {doubtful
              ? tn(doubtful, "Only the {n} opening with findings", "Only the {n} openings with findings")
              : t("Only those with findings: none")}
          </Menu.Item>
          {editions.length > 1 && (
            <Menu.Item onClick={tour}>
              {t("Only those with findings, through all {editions} editions", { editions: editions.length })}
            </Menu.Item>
          )}
        </Menu.Dropdown>
      </Menu>
    </Button.Group>
  );
}

/** The foot of a walk: how far it has got, and the photos that fit best here, each with its digit. */
export function WalkStrip({ state }: { state: View }) {
  const { walk, selected } = usePicked(useBench, "walk", "selected");
  const { edit } = useChange(state);
  const { data: ranked, isPlaceholderData: old } = useRanked(state, selected);
  const { inWords } = useUnit();
  if (!walk) return null;
  const index = walk.openings.indexOf(selected ?? "");
  const more = `${state.sheets.length > 1 ? ` of ${state.sheet.name}` : ""}${walk.tour ? `, ${state.own.name}` : ""}`;
  const stop = walk.tour ? whereIn(state, walk.tour) : state.at;
  const stops = walk.tour?.length ?? state.sheets.length;
  const row = state.rows.find((entry) => entry.opening === selected);
  const findings = state.findings.filter((finding) => finding.layer === selected);
  return (
    <section className={css.walk} aria-label={t("Walk")}>
      <div className={css.bar}>
        <strong className="num">
          {row
            ? t("Opening {number}{more}, {place} of {openings}", {
                number: row.number,
                more,
                place: index + 1,
                openings: walk.openings.length,
              })
            : t("The next sheet is on its way")}
          {row &&
            walk.tour &&
            `; ${t("sheet {number} of {stops} with findings", { number: stop + 1, stops })}`}
        </strong>
        <span>{row && (findings[0] ? inWords(findings[0].sentence) : t("Ready."))}</span>
        <span className={css.keys}>
          {t("Arrows shift, + − zoom, [ ] turn, M mirrors, 1 to 9 take a photo, Enter goes on, Esc ends")}
        </span>
        <Button
          size="compact-xs"
          variant="default"
          disabled={index <= 0 && stop <= 0}
          onClick={() => goOn(state, -1)}
        >
          {t("Back")}
        </Button>
        <Button size="compact-xs" variant="filled" onClick={() => goOn(state, 1)}>
          {index + 1 < walk.openings.length || stop + 1 < stops ? t("Accept and go on") : t("Accept and end")}
        </Button>
      </div>
      <ol className={css.best} aria-label={t("Photos that fit best")} aria-busy={old}>
        {ranked?.map((entry, n) => {
          const photo = state.photo.get(entry.photo);
          if (!photo) return null;
          return (
            <li key={entry.photo} data-here={entry.photo === row?.photo || undefined}>
              <button
                type="button"
                aria-label={`${n + 1} ${entry.used ? `${t("in use")} ` : ""}${photo.name}`}
                onClick={() => selected && edit({ op: "put", opening: selected, photo: photo.id })}
              >
                <img src={thumb(photo)} alt="" style={{ aspectRatio: photo.width / photo.height }} />
                <kbd>{n + 1}</kbd> {entry.used && <span>{t("in use")}</span>}
              </button>
            </li>
          );
        })}
      </ol>
    </section>
  );
}
