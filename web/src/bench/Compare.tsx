import { Button, Select } from "@mantine/core";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { answer, api, type Compared, sheetPicture } from "../api/client";
import { useChange } from "../editing/changes";
import { useBench } from "../editing/store";
import { useKnownJob } from "../editing/useJob";
import type { View } from "../editing/view";
import { Dialog } from "../ui/Dialog";
import { room } from "../ui/room";
import { t, tn } from "../words";
import css from "./compare.module.css";

type Difference = Compared["differences"][number];

/** Two editions side by side, where they differ, and one thing or another taken over from the other. */
export function Compare({
  state,
  editions,
  onClose,
}: {
  state: View;
  editions: { id: string; name: string }[];
  onClose: () => void;
}) {
  const { edit } = useChange(state);
  const waiting = useKnownJob(state.id).waiting;
  const set = useBench((bench) => bench.set);
  const others = editions.filter(({ id }) => id !== state.own.id);
  const [other, setOther] = useState(others[0]?.id ?? "");
  const [sheet, setSheet] = useState(state.sheet.id);
  const compared = useQuery({
    // Named by how both editions stand, so that it is never old.
    queryKey: ["compared", state.id, state.own.id, other, ...state.job.editions, state.job.sheets],
    queryFn: ({ signal }) =>
      answer<Compared>(
        api.GET("/api/jobs/{job}/compare", {
          signal,
          params: { path: { job: state.id }, query: { here: state.own.id, there: other } },
        }),
      ),
    enabled: waiting === 0,
    placeholderData: (before) => before,
  });
  const name = others.find(({ id }) => id === other)?.name ?? "";
  const differences = compared.data?.differences ?? [];
  const here = differences.filter((one) => one.sheet === sheet);
  const whole = differences.filter((one) => !one.sheet);
  const keys = compared.data?.keys[sheet];
  const take = (some: Difference[]) =>
    edit({
      op: "take_over",
      other,
      sheet: some.find((one) => one.sheet)?.sheet ?? null,
      layers: some.flatMap((one) => one.layer || []),
      fields: some.flatMap((one) => one.field || []),
      copies: some.some((one) => one.what === "copies"),
    });
  const row = (one: Difference) => (
    <li key={[one.sheet, one.layer, one.field, one.what].join(" ")}>
      <strong>{called(state, one)}</strong>
      <span title={one.here}>{one.here || t("nothing")}</span>
      <span title={one.there}>{one.there || t("nothing")}</span>
      {one.what === "variant" ? (
        <span />
      ) : (
        <Button size="compact-xs" variant="default" disabled={waiting > 0} onClick={() => take([one])}>
          {t("Take over")}
        </Button>
      )}
    </li>
  );
  const shown = state.sheets.findIndex(({ id }) => id === sheet);
  const place = room(state.marks[shown]?.ratio ?? 1, "100%", "46vh");
  return (
    <Dialog onClose={onClose} size="min(1180px, 96vw)" title={t("Two editions side by side")}>
      <div className={css.pair}>
        <figure>
          <figcaption>{state.own.name}</figcaption>
          <div style={place}>
            {keys && (
              <img
                src={sheetPicture(keys[0], 700)}
                alt={t("This sheet in {name}", { name: state.own.name })}
              />
            )}
          </div>
        </figure>
        <figure>
          <figcaption>
            <Select
              size="xs"
              aria-label={t("The other edition")}
              allowDeselect={false}
              searchable={others.length > 12}
              value={other}
              data={others.map(({ id, name: label }) => ({ value: id, label }))}
              onChange={(value) => value && setOther(value)}
            />
          </figcaption>
          <div style={place}>
            {keys && <img src={sheetPicture(keys[1], 700)} alt={t("This sheet in {name}", { name })} />}
          </div>
        </figure>
      </div>
      {state.sheets.length > 1 && (
        <div className={css.sheets}>
          <Select
            size="xs"
            aria-label={t("Sheet")}
            allowDeselect={false}
            value={sheet}
            data={state.sheets.map(({ id, name: label }) => {
              const count = differences.filter((one) => one.sheet === id).length;
              return {
                value: id,
                label: count ? `${label}: ${tn(count, "{n} difference", "{n} differences")}` : label,
              };
            })}
            onChange={(value) => {
              if (!value) return;
              setSheet(value);
              set({ sheet: value, selected: undefined });
            }}
          />
          <span className={css.note}>
            {t("Sheet {number} of {sheets}", { number: shown + 1, sheets: state.sheets.length })}
          </span>
        </div>
      )}
      <p className={css.note} role="status">
        {compared.data
          ? tn(
              here.length,
              "{n} difference on this sheet, {differences} in all.",
              "{n} differences on this sheet, {differences} in all.",
              { differences: differences.length },
            )
          : t("Being compared…")}
      </p>
      {(here.length > 0 || whole.length > 0) && (
        <ul className={css.list} aria-label={t("Differences")} aria-busy={compared.isPlaceholderData}>
          <li className={css.heads}>
            <span />
            <span>{state.own.name}</span>
            <span>{name}</span>
            {here.length > 1 ? (
              <Button size="compact-xs" variant="subtle" disabled={waiting > 0} onClick={() => take(here)}>
                {t("All of this sheet")}
              </Button>
            ) : (
              <span />
            )}
          </li>
          {here.map(row)}
          {whole.map(row)}
        </ul>
      )}
    </Dialog>
  );
}

function called(state: View, one: Difference) {
  if (one.what === "copies") return t("How many to print");
  if (one.what === "variant") return t("Another variant of the template");
  if (one.field) return `“${one.field}”`;
  if (!one.number) {
    const layer = state.layout.layers.find(({ id }) => id === one.layer);
    return t("Words {name}", { name: layer?.name || one.layer });
  }
  const { number } = one;
  if (one.what === "fit") return t("Opening {number}, its fit", { number });
  if (one.what === "tone") return t("Opening {number}, its tone", { number });
  return t("Opening {number}", { number });
}
