import { Button } from "@mantine/core";
import { useDocumentTitle } from "@mantine/hooks";
import { useState } from "react";
import { Link } from "wouter";
import { coverPicture, type TakenFolder, type WatchedFolder } from "../api/client";
import { useLabs, useTemplates } from "../api/queries";
import { jobAddress } from "../editing/addresses";
import { plural } from "../ui/format";
import { Mark } from "../ui/Mark";
import { PictureWhenSeen } from "../ui/PictureWhenSeen";
import { moment, when } from "../ui/when";
import { RuleDialog } from "./RuleDialog";
import { FORMATS } from "./rules";
import { useWatched, useWatching } from "./useWatched";
import css from "./watched.module.css";

/** All watched folders: by which rule each makes jobs, what lies in it, what became of what was taken. */
export function Watched() {
  const watched = useWatched();
  const [ruling, setRuling] = useState<WatchedFolder | "new">();
  useDocumentTitle("Watched folders, Sutaru");
  const folders = watched.data?.folders ?? [];
  return (
    <main className={css.watched}>
      <header className={css.head}>
        <Link href="/">Shelf</Link>
        <h1>Watched folders</h1>
        <Button ml="auto" size="xs" onClick={() => setRuling("new")}>
          Watch a folder…
        </Button>
      </header>
      {watched.data && (
        <div className={css.how}>
          <p>
            Put a customer's folder of photos into a watched folder: it becomes a job by the folder's rule,
            filled at once. What nothing blocks is exported; everything else waits here for you.
          </p>
          <details>
            <summary>Where the folders are</summary>
            <p>
              Watched folders are in <code>{watched.data.folder}</code>. Print files go to <code>print</code>,
              in each of them.
            </p>
          </details>
        </div>
      )}
      <ul className={css.list}>
        {folders.map((folder) => (
          <li key={folder.name}>
            <One folder={folder} onRule={() => setRuling(folder)} />
          </li>
        ))}
      </ul>
      {ruling && (
        <RuleDialog folder={ruling === "new" ? undefined : ruling} onClose={() => setRuling(undefined)} />
      )}
    </main>
  );
}

function One({ folder, onRule }: { folder: WatchedFolder; onRule: () => void }) {
  const { leave } = useWatching();
  const { taken, count } = folder;
  return (
    <article className={css.folder} aria-label={folder.name}>
      <header>
        <h2>{folder.name}</h2>
        <span className={css.rule}>{folder.rule && <InWords rule={folder.rule} />}</span>
        <Button size="compact-xs" variant="default" onClick={onRule}>
          Change rule…
        </Button>
        <Button
          size="compact-xs"
          variant="default"
          title="Its files stay in place"
          loading={leave.isPending}
          onClick={() => leave.mutate(folder.name)}
        >
          Stop watching
        </Button>
      </header>
      {folder.wrong && (
        <p role="alert">
          <Mark status="stop" size={10} /> {folder.wrong} Nothing is taken from here until it has another
          rule.
        </p>
      )}
      {(folder.laid.length > 0 || taken.length > 0) && (
        <ul>
          {folder.laid.map((one) => (
            <li key={one.name} className={`${css.row} num`}>
              <span className={css.picture} />
              <strong>{one.name}</strong>
              <span>
                <Mark status={one.stuck ? "stop" : "note"} size={10} />{" "}
                {one.photos ? plural(one.photos, "photo") : "nothing in it yet"}
                {one.stuck
                  ? `, not taken. ${one.stuck} It is tried again.`
                  : one.begun
                    ? ", becomes a job"
                    : one.photos > 0 && ", taken once it no longer changes"}
              </span>
            </li>
          ))}
          {taken.map((one) => (
            <li key={one.name} className={`${css.row} num`}>
              <BecameOf one={one} />
            </li>
          ))}
        </ul>
      )}
      {count > taken.length && <p className={css.rule}>{count - taken.length} more were taken before.</p>}
      {!folder.laid.length && !count && <p className={css.rule}>Nothing was laid in yet.</p>}
    </article>
  );
}

/** A customer's folder that was taken: the job it became, how that stands, and what is to be done with it. */
function BecameOf({ one }: { one: TakenFolder }) {
  const { state } = one;
  const refused = one.refused ?? [];
  const became = {
    waits: `Waits: ${one.why}`,
    since: "Waited, and was exported since.",
    exported: `Exported: ${plural(one.files ?? 0, "file")}.`,
    gone: "Its job was deleted.",
  };
  const href = state === "waits" ? jobAddress(one.job, { panel: "findings" }) : `/jobs/${one.job}/dispatch`;
  return (
    <>
      <span className={css.picture}>
        {one.picture && (
          <PictureWhenSeen src={coverPicture({ id: one.job, picture: one.picture }, 120)} alt="" />
        )}
      </span>
      <strong>{one.name}</strong>
      <div>
        <Mark status={state === "waits" ? "look" : state === "gone" ? "note" : "order"} size={10} />{" "}
        {became[state]}
        {refused.length > 0 && (
          <ul>
            {refused.map((sentence) => (
              <li key={sentence}>{sentence}</li>
            ))}
          </ul>
        )}
      </div>
      <time dateTime={one.when} title={moment(one.when)}>
        {when(one.when)}
      </time>
      {state !== "gone" && (
        <Button
          component={Link}
          href={href}
          size="compact-xs"
          variant={state === "waits" ? "filled" : "default"}
          aria-label={`${state === "waits" ? "Mend" : "Dispatch"} ${one.name}`}
        >
          {state === "waits" ? "Mend" : "Dispatch"}
        </Button>
      )}
    </>
  );
}

function InWords({ rule }: { rule: NonNullable<WatchedFolder["rule"]> }) {
  const template = useTemplates().data?.find((one) => one.id === rule.template);
  const lab = useLabs().data?.find((one) => one.id === rule.lab);
  const format = FORMATS.find((one) => one.value === rule.format)?.label;
  return (
    <>
      {[
        template?.name ?? rule.template,
        lab?.name ?? rule.lab,
        rule.fill === "order" ? "photos in order" : "photos where they fit best",
        rule.export === false
          ? "waits for a person"
          : `exported${format ? ` as ${format}` : ""} when in order`,
      ].join(" · ")}
    </>
  );
}
