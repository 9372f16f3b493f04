import { Button, Checkbox } from "@mantine/core";
import { type JobHead, sent } from "../api/client";
import { useChange } from "../editing/changes";
import { jobStore } from "../editing/jobs";
import type { View } from "../editing/view";
import { ChooseFile } from "../ui/ChooseFile";
import { complain } from "../ui/complain";
import { t } from "../words";
import { ProofLinks } from "./ProofLinks";
import css from "./remarks.module.css";

/** The proof that the customer is sent, and what they wrote to it: where it is, and whether it is done. */
export function Remarks({ state, onGo }: { state: View; onGo: (sheet: string) => void }) {
  const { edit } = useChange(state);
  const remarks = state.job.remarks ?? [];
  const bring = async (file: File | null) => {
    if (!file) return;
    try {
      await jobStore(state.id).settled();
      await sent<JobHead>(`/api/jobs/${state.id}/remarks`, file);
    } catch (error) {
      complain(error);
    }
  };
  return (
    <div className={css.remarks}>
      {remarks.length === 0 && (
        <p className={css.hint}>
          {t(
            "Send the customer a link, or the proof as one file for any browser. By a link, remarks and approval come back by themselves.",
          )}
        </p>
      )}
      <ProofLinks state={state} />
      <div className={css.bring}>
        <Button
          size="compact-sm"
          variant="default"
          component="a"
          href={`/api/jobs/${state.id}/proof.html?edition=${state.own.id}`}
          download
        >
          {t("Proof for the customer")}
        </Button>
        <ChooseFile accept=".json,application/json" onFile={bring}>
          {(props) => (
            <Button {...props} size="compact-sm" variant="default">
              {t("Bring remarks in…")}
            </Button>
          )}
        </ChooseFile>
      </div>
      <ol>
        {remarks.map((one, n) => (
          <li key={one.id} data-done={one.done || undefined}>
            <button type="button" onClick={() => onGo(one.sheet)}>
              {n + 1}.{" "}
              {state.sheets.find((sheet) => sheet.id === one.sheet)?.name ?? t("a sheet that is gone")}
            </button>
            <p>{one.text}</p>
            <Checkbox
              size="xs"
              label={t("Done ({name})", { name: one.name || t("no name") })}
              checked={one.done ?? false}
              onChange={(event) =>
                edit({ op: "settle_remark", remark: one.id, done: event.currentTarget.checked })
              }
            />
          </li>
        ))}
      </ol>
    </div>
  );
}
