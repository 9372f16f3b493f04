import { Button, Group, Select } from "@mantine/core";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { answer, api, type ListRead, type Meaning, type RowDone, sent } from "../api/client";
import { useChange } from "../editing/changes";
import type { View } from "../editing/view";
import { Answer } from "../ui/Answer";
import { ChooseFile } from "../ui/ChooseFile";
import { complain } from "../ui/complain";
import { Dialog } from "../ui/Dialog";
import { Mark } from "../ui/Mark";
import { useLatest } from "../ui/useLatest";
import { t, tn } from "../words";
import css from "./lists.module.css";

const keyOf = (meaning: Meaning) =>
  [meaning.kind, meaning.sheet, meaning.layer, meaning.field].filter(Boolean).join(" ");
const NOTHING = "nothing";
const STATES: Record<string, string> = {
  new: t("a new edition"),
  changed: t("changes its edition"),
  same: t("as it is"),
  failed: t("left out"),
};

/** Editions from a list of customers: each column says what it means, each row what becomes of it, before anything is kept. */
export function ListDialog({ state, onClose }: { state: View; onClose: () => void }) {
  const { edit } = useChange(state);
  const [read, setRead] = useState<ListRead>();
  const [called, setCalled] = useState("");
  const [meanings, setMeanings] = useState<Meaning[]>([]);
  const latest = useLatest();
  const bring = async (file: File | null) => {
    if (!file) return;
    const signal = latest();
    try {
      const list = await sent<ListRead>(
        `/api/jobs/${state.id}/list?name=${encodeURIComponent(file.name.slice(0, 120))}`,
        file,
        signal,
      );
      if (signal.aborted) return;
      setRead(list);
      setMeanings(list.meanings);
      setCalled(file.name);
    } catch (error) {
      complain(error);
    }
  };
  const said = read && { op: "take_list" as const, like: state.own.id, table: read.table, meanings };
  const named = meanings.some((meaning) => meaning.kind === "name");
  const tried = useQuery({
    queryKey: ["list", state.id, state.seq, called, ...meanings.map(keyOf)],
    queryFn: ({ signal }) =>
      answer<RowDone[]>(
        api.POST("/api/jobs/{job}/list/tried", {
          signal,
          params: { path: { job: state.id } },
          body: said as NonNullable<typeof said>,
        }),
      ),
    enabled: Boolean(said) && named,
    retry: false,
    placeholderData: (before) => before,
  });
  const rows = named ? tried.data : undefined;
  const count = (what: string) => rows?.filter((row) => row.state === what).length ?? 0;
  const [fresh, changed, same, failed] = [count("new"), count("changed"), count("same"), count("failed")];
  const choose = (column: number, key: string | null) => {
    const chosen = read?.says.find((one) => keyOf(one.meaning) === key)?.meaning;
    setMeanings(
      meanings.map((meaning, n) =>
        n === column
          ? (chosen ?? ({ kind: NOTHING } as Meaning))
          : chosen && keyOf(meaning) === key
            ? ({ kind: NOTHING } as Meaning) // no two columns say the same
            : meaning,
      ),
    );
  };
  return (
    <Dialog onClose={onClose} title={t("Editions from a list")} size={1080}>
      <Group gap={12}>
        <ChooseFile onFile={bring} accept=".csv,.txt,.tsv,.xlsx">
          {(props) => (
            <Button {...props} variant={read ? "default" : "filled"} size="xs">
              {read ? t("Another list…") : t("Choose a list…")}
            </Button>
          )}
        </ChooseFile>
        <p className={css.note}>
          {read
            ? `${called}: ${tn(read.table.rows.length, "{n} row", "{n} rows")}.`
            : t(
                "A CSV or XLSX whose first row names its columns, then a row for each customer. Photos are named by their files in the pile.",
              )}
        </p>
      </Group>
      {read && (
        <>
          <div className={css.scroll}>
            <table className={css.table} aria-label={t("The list")}>
              <thead>
                <tr>
                  {read.table.columns.map((column, n) => (
                    // biome-ignore lint/suspicious/noArrayIndexKey: columns may be called alike
                    <th key={n}>
                      <span>{column}</span>
                      <Select
                        size="xs"
                        aria-label={t("Meaning of {column}", { column })}
                        allowDeselect={false}
                        value={keyOf(meanings[n] ?? ({ kind: NOTHING } as Meaning))}
                        data={[
                          { value: NOTHING, label: t("not used") },
                          ...read.says.map((one) => ({ value: keyOf(one.meaning), label: one.name })),
                        ]}
                        onChange={(value) => choose(n, value)}
                        comboboxProps={{ width: 260, position: "bottom-start" }}
                      />
                    </th>
                  ))}
                  <th>{t("Result")}</th>
                </tr>
              </thead>
              <tbody>
                {read.table.rows.map((row, n) => {
                  const done = rows?.[n];
                  return (
                    // biome-ignore lint/suspicious/noArrayIndexKey: rows may be alike
                    <tr key={n} data-state={done?.state}>
                      {row.map((cell, column) => (
                        <td
                          // biome-ignore lint/suspicious/noArrayIndexKey: cells of one row
                          key={column}
                          data-out={meanings[column]?.kind === NOTHING || undefined}
                        >
                          {cell}
                        </td>
                      ))}
                      <td>
                        {done && (
                          <>
                            <Mark status={done.state === "failed" ? "stop" : "order"} size={10} />{" "}
                            {done.wrong?.length ? done.wrong.join(" ") : STATES[done.state]}
                            {done.state !== "failed" && done.key && (
                              <span className={css.key} title={t("By this the row is recognised next time.")}>
                                {done.key}
                              </span>
                            )}
                          </>
                        )}
                      </td>
                    </tr>
                  );
                })}
              </tbody>
            </table>
          </div>
          <Answer
            said={
              <p className={css.note} role="status">
                {!named
                  ? t("Say which column names who each row is for.")
                  : tried.error
                    ? tried.error.message
                    : [
                        fresh && tn(fresh, "{n} new edition", "{n} new editions"),
                        changed && t("{changed} changed", { changed }),
                        same && t("{same} as they are", { same }),
                        failed && tn(failed, "{n} row left out", "{n} rows left out"),
                      ]
                        .filter(Boolean)
                        .join(", ")}
              </p>
            }
          >
            <Button variant="default" onClick={onClose}>
              {t("Cancel")}
            </Button>
            <Button
              disabled={!rows || fresh + changed === 0 || tried.isPlaceholderData}
              onClick={() => {
                if (said) edit(said);
                onClose();
              }}
            >
              {fresh
                ? tn(fresh, "Make {n} edition", "Make {n} editions")
                : tn(changed, "Change {n} edition", "Change {n} editions")}
            </Button>
          </Answer>
        </>
      )}
    </Dialog>
  );
}
