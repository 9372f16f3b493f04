import { Button } from "@mantine/core";
import { useDocumentTitle } from "@mantine/hooks";
import { useState } from "react";
import { Link } from "wouter";
import type { TakenFolder, WatchedFolder } from "../api/client";
import { useLabs, useTemplates } from "../api/queries";
import { jobAddress } from "../editing/addresses";
import { plural } from "../ui/format";
import { Mark } from "../ui/Mark";
import { when } from "../ui/when";
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
        <p className={css.how}>
          A customer's folder of photos that is laid into one of these becomes a job by its rule, filled at
          once. What nothing stops is exported into <code>print</code>, beside it; everything else waits here
          for a person. They lie in <code>{watched.data.folder}</code>.
        </p>
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
      <ul>
        {folder.laid.map((one) => (
          <li key={one.name} className="num">
            <Mark status={one.stuck ? "stop" : "note"} size={10} /> <strong>{one.name}</strong>:{" "}
            {one.photos ? plural(one.photos, "photo") : "nothing in it yet"}
            {one.stuck
              ? `, not taken. ${one.stuck} It is tried again.`
              : one.begun
                ? ", becomes a job"
                : one.photos > 0 && ", taken once it no longer changes"}
          </li>
        ))}
        {taken.map((one) => (
          <li key={one.name} className="num">
            <BecameOf one={one} />
          </li>
        ))}
      </ul>
      {count > taken.length && <p className={css.rule}>{count - taken.length} more were taken before.</p>}
      {!folder.laid.length && !count && <p className={css.rule}>Nothing was laid in yet.</p>}
    </article>
  );
}

function BecameOf({ one }: { one: TakenFolder }) {
  const { state } = one;
  const refused = one.refused ?? [];
  const became = {
    waits: `waits: ${one.why}`,
    since: "waited, and was exported since.",
    exported: `exported: ${plural(one.files ?? 0, "file")}.`,
    gone: "its job was deleted.",
  };
  return (
    <>
      <Mark status={state === "waits" ? "look" : state === "gone" ? "note" : "order"} size={10} />{" "}
      {state === "gone" ? (
        <strong>{one.name}</strong>
      ) : (
        <Link
          href={state === "waits" ? jobAddress(one.job, { panel: "findings" }) : `/jobs/${one.job}/dispatch`}
        >
          {one.name}
        </Link>
      )}
      <span>
        {" "}
        {when(one.when)}, {became[state]}
      </span>
      {refused.length > 0 && (
        <ul>
          {refused.map((sentence) => (
            <li key={sentence}>{sentence}</li>
          ))}
        </ul>
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
