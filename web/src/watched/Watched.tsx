import { Button } from "@mantine/core";
import { useDocumentTitle } from "@mantine/hooks";
import { useState } from "react";
import { Link } from "wouter";
import { coverPicture, type TakenFolder, type WatchedFolder } from "../api/client";
import { useLabs, useTemplates } from "../api/queries";
import { jobAddress } from "../editing/addresses";
import { Mark } from "../ui/Mark";
import { PictureWhenSeen } from "../ui/PictureWhenSeen";
import { moment, when } from "../ui/when";
import { t, tn } from "../words";
import { weave } from "../words/weave";
import { RuleDialog } from "./RuleDialog";
import { FORMATS } from "./rules";
import { useWatched, useWatching } from "./useWatched";
import css from "./watched.module.css";

/** All watched folders: by which rule each makes jobs, what lies in it, what became of what was taken. */
export function Watched() {
  const watched = useWatched();
  const [ruling, setRuling] = useState<WatchedFolder | "new">();
  useDocumentTitle(t("Watched folders, Sutaru"));
  const folders = watched.data?.folders ?? [];
  return (
    <main className={css.watched}>
      <header className={css.head}>
        <Link href="/">{t("Shelf")}</Link>
        <h1>{t("Watched folders")}</h1>
        <Button ml="auto" size="xs" onClick={() => setRuling("new")}>
          {t("Watch a folder…")}
        </Button>
      </header>
      {watched.data && (
        <div className={css.how}>
          <p>
            {t(
              "Put a customer's folder of photos into a watched folder: it becomes a job by the folder's rule, filled at once. What nothing blocks is exported; everything else waits here for you.",
            )}
          </p>
          <details>
            <summary>{t("Where the folders are")}</summary>
            <p>
              {weave(
                t(
                  "Watched folders are in <folder>{folder}</folder>. Print files go to <folder>print</folder>, in each of them.",
                  {
                    folder: watched.data.folder,
                  },
                ),
                { folder: (text) => <code>{text}</code> },
              )}
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
          {t("Change rule…")}
        </Button>
        <Button
          size="compact-xs"
          variant="default"
          title={t("Its files stay in place")}
          loading={leave.isPending}
          onClick={() => leave.mutate(folder.name)}
        >
          {t("Stop watching")}
        </Button>
      </header>
      {folder.wrong && (
        <p role="alert">
          <Mark status="stop" size={10} />{" "}
          {t("{wrong} Nothing is taken from here until it has another rule.", { wrong: folder.wrong })}
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
                {[
                  one.photos ? tn(one.photos, "{n} photo", "{n} photos") : t("nothing in it yet"),
                  one.stuck
                    ? t("not taken. {stuck} It is tried again.", { stuck: one.stuck })
                    : one.begun
                      ? t("becomes a job")
                      : one.photos > 0 && t("taken once it no longer changes"),
                ]
                  .filter(Boolean)
                  .join(", ")}
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
      {count > taken.length && (
        <p className={css.rule}>{t("{number} more were taken before.", { number: count - taken.length })}</p>
      )}
      {!folder.laid.length && !count && <p className={css.rule}>{t("Nothing was laid in yet.")}</p>}
    </article>
  );
}

/** A customer's folder that was taken: the job it became, how that stands, and what is to be done with it. */
function BecameOf({ one }: { one: TakenFolder }) {
  const { state } = one;
  const refused = one.refused ?? [];
  const became = {
    waits: t("Waits: {why}", { why: one.why }),
    since: t("Waited, and was exported since."),
    exported: tn(one.files ?? 0, "Exported: {n} file.", "Exported: {n} files."),
    gone: t("Its job was deleted."),
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
          aria-label={`${state === "waits" ? t("Mend") : t("Dispatch")} ${one.name}`}
        >
          {state === "waits" ? t("Mend") : t("Dispatch")}
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
        rule.fill === "order" ? t("photos in order") : t("photos where they fit best"),
        rule.export === false
          ? t("waits for a person")
          : format
            ? t("exported as {format} when in order", { format })
            : t("exported when in order"),
      ].join(" · ")}
    </>
  );
}
