import { ActionIcon, Button, Drawer, TextInput, Tooltip } from "@mantine/core";
import IconHistory from "@tabler/icons-react/icons/IconHistory";
import { useState } from "react";
import { answer, api, type HistoryState } from "../api/client";
import { client, useHistory } from "../api/queries";
import { useChange } from "../editing/changes";
import type { View } from "../editing/view";
import { complain } from "../ui/complain";
import { useTyped } from "../ui/typed";
import { moment } from "../ui/when";
import { t } from "../words";
import css from "./history.module.css";

/** What was done, when; any state can be looked at, gone back to, and given a name. */
export function HistoryButton({ state }: { state: View }) {
  const [open, setOpen] = useState(false);
  return (
    <>
      <Tooltip label={t("History of this job")}>
        <ActionIcon variant="default" aria-label={t("History")} onClick={() => setOpen(true)}>
          <IconHistory size={16} />
        </ActionIcon>
      </Tooltip>
      <Drawer
        opened={open}
        onClose={() => setOpen(false)}
        position="right"
        size={380}
        title={t("History")}
        transitionProps={{ duration: 0 }}
        closeButtonProps={{ "aria-label": t("Close") }}
      >
        {open && <States state={state} />}
      </Drawer>
    </>
  );
}

function States({ state }: { state: View }) {
  const { data } = useHistory(state.id, true);
  const [looking, setLooking] = useState<number>();
  return (
    <ol className={css.states} aria-label={t("States")}>
      {data?.map((entry) => (
        <State
          key={entry.number}
          view={state}
          entry={entry}
          open={looking === entry.number}
          onLook={() => setLooking(looking === entry.number ? undefined : entry.number)}
        />
      ))}
    </ol>
  );
}

function State({
  view,
  entry,
  open,
  onLook,
}: {
  view: View;
  entry: HistoryState;
  open: boolean;
  onLook: () => void;
}) {
  const { goTo } = useChange(view);
  const picture = (width: number) =>
    `/api/jobs/${view.id}/history/${entry.number}/picture?sheet=${view.sheet.id}&edition=${view.own.id}&width=${width}`;
  const keepName = async (name: string) => {
    try {
      await answer(
        api.PUT("/api/jobs/{job}/history/{number}", {
          params: { path: { job: view.id, number: entry.number } },
          body: { name },
        }),
      );
      client.invalidateQueries({ queryKey: ["history", view.id] });
    } catch (error) {
      complain(error);
    }
  };
  const { field } = useTyped(entry.named, keepName);
  return (
    <li className={css.state} data-here={entry.here || undefined} data-undone={entry.undone || undefined}>
      <button type="button" className={css.look} aria-expanded={open} onClick={onLook}>
        <img src={picture(120)} alt="" loading="lazy" />
        <span>
          {entry.named && <strong>{entry.named}</strong>}
          <span>
            {entry.label}
            {entry.steps > 1 && <span className="num"> {t("({steps} steps)", { steps: entry.steps })}</span>}
          </span>
          <small className="num">
            {moment(entry.made)}
            {entry.here ? t(", current") : entry.undone ? t(", undone") : ""}
          </small>
        </span>
      </button>
      {open && (
        <div className={css.more}>
          <img
            src={picture(680)}
            alt={t("{name} as it was", { name: view.sheet.name })}
            style={{ aspectRatio: view.marks[view.at]?.ratio }}
          />
          <div>
            <TextInput
              {...field}
              size="xs"
              aria-label={t("Name of this state")}
              placeholder={t("Name this state")}
              maxLength={120}
            />
            <Button variant="default" disabled={entry.here} onClick={() => goTo(entry.number)}>
              {t("Go to this state")}
            </Button>
          </div>
        </div>
      )}
    </li>
  );
}
