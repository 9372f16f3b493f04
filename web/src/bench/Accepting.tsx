import { Button, Checkbox, TextInput } from "@mantine/core";
import { useState } from "react";
import type { Finding } from "../api/client";
import { useChange } from "../editing/changes";
import { flush } from "../editing/flushing";
import { jobStore } from "../editing/jobs";
import type { View } from "../editing/view";
import { Dialog } from "../ui/Dialog";
import { Mark } from "../ui/Mark";
import { t, tn } from "../words";
import css from "./accepting.module.css";

const WHO = "sutaru who accepts";
const named = ({ rule, layer, sentence }: Finding) => ({ rule, layer, sentence });

/** Findings by the edition and sheet they are of: an edit speaks of one sheet. */
const bySheet = (findings: Finding[]) => {
  const byKind = new Map<string, Finding[]>();
  for (const finding of findings) {
    const of = `${finding.edition ?? ""} ${finding.sheet}`;
    byKind.set(of, [...(byKind.get(of) ?? []), finding]);
  }
  return [...byKind.values()];
};
/** Where a finding is, as an edit says it; of the edition in view when it names none. */
const whereOf = ({ sheet, edition }: Finding) => ({ sheet, ...(edition ? { edition } : {}) });

/** Lets a finding pass, with a name and a reason; or lets it count again. `all`: among which others like it are looked for. */
export function Accepting({ state, finding, all }: { state: View; finding: Finding; all: Finding[] }) {
  const { edit } = useChange(state);
  const [open, setOpen] = useState(false);
  if (finding.found === "note") return null;
  if (finding.accepted)
    return (
      <div className={css.accepted}>
        <span>
          {t("Accepted by {name}: {reason}", {
            name: finding.accepted.name,
            reason: finding.accepted.reason,
          })}
        </span>
        <Button
          size="compact-xs"
          variant="default"
          aria-label={t("Withdraw: {sentence}", { sentence: finding.sentence })}
          onClick={() => edit({ op: "reopen", ...whereOf(finding), findings: [named(finding)] })}
        >
          {t("Withdraw")}
        </Button>
      </div>
    );
  return (
    <>
      <Button
        size="compact-xs"
        variant="default"
        className={css.accept}
        // What is still on its way may change what was found.
        disabled={jobStore(state.id).waiting > 0}
        aria-label={t("Accept: {sentence}", { sentence: finding.sentence })}
        onClick={() => {
          flush();
          setOpen(true);
        }}
      >
        {t("Accept…")}
      </Button>
      {open && <Asking state={state} finding={finding} all={all} done={() => setOpen(false)} />}
    </>
  );
}

function Asking({
  state,
  finding,
  all,
  done,
}: {
  state: View;
  finding: Finding;
  all: Finding[];
  done: () => void;
}) {
  const { edit } = useChange(state);
  const [name, setName] = useState(localStorage.getItem(WHO) ?? "");
  const [reason, setReason] = useState("");
  const [like, setLike] = useState(false);
  const others = all.filter(
    (other) =>
      other !== finding && other.rule === finding.rule && other.found === finding.found && !other.accepted,
  );
  const accept = () => {
    localStorage.setItem(WHO, name.trim());
    const gesture = `accept ${Date.now()}`;
    for (const findings of bySheet([finding, ...(like ? others : [])]))
      if (findings[0])
        edit(
          { op: "accept", ...whereOf(findings[0]), findings: findings.map(named), name, reason },
          { gesture },
        );
    done();
  };
  return (
    <Dialog onClose={done} title={finding.found === "stop" ? t("Accept anyway") : t("Accept")} centered>
      <form
        onSubmit={(event) => {
          event.preventDefault();
          accept();
        }}
      >
        <p className={css.sentence}>
          <Mark status={finding.found} /> {finding.sentence}
        </p>
        <p className={css.note}>
          {t(
            "This holds for the finding as it is now; if it gets worse, it counts again. Name and reason are stored in the job and in the export's manifest.",
          )}
        </p>
        <TextInput
          label={t("Your name")}
          required
          maxLength={120}
          value={name}
          data-autofocus={!name || undefined}
          onChange={(event) => setName(event.currentTarget.value)}
        />
        <TextInput
          label={t("Reason")}
          required
          mt={8}
          maxLength={500}
          value={reason}
          data-autofocus={Boolean(name) || undefined}
          onChange={(event) => setReason(event.currentTarget.value)}
        />
        {others.length > 0 && (
          <Checkbox
            mt={12}
            label={tn(
              others.length,
              "And the {n} other of the same kind",
              "And the {n} others of the same kind",
            )}
            checked={like}
            onChange={(event) => setLike(event.currentTarget.checked)}
          />
        )}
        <Button
          type="submit"
          mt={14}
          disabled={jobStore(state.id).waiting > 0 || !name.trim() || !reason.trim()}
        >
          {t("Accept")}
        </Button>
      </form>
    </Dialog>
  );
}
