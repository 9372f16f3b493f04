import { Button, Progress } from "@mantine/core";
import { plural } from "../../ui/format";
import { Mark } from "../../ui/Mark";
import { stopImport, useQueue } from "./importing";
import css from "./pile.module.css";

/** Progress of an import, and one sentence for each file that was refused. */
export function Incoming() {
  const { files, clear } = useQueue();
  if (files.length === 0) return null;
  const ended = files.filter((file) => !["waiting", "sending"].includes(file.state)).length;
  const refused = files.filter((file) => file.state === "refused");
  const known = files.filter((file) => file.state === "known").length;
  const total = files.reduce((sum, file) => sum + Math.max(1, file.size), 0);
  const done = files.reduce(
    (sum, file) =>
      sum + (["waiting", "sending"].includes(file.state) ? file.sent * 0.8 : Math.max(1, file.size)),
    0,
  );
  const busy = ended < files.length;
  const sending = files.find((file) => file.state === "sending");
  return (
    <div className={css.incoming} role="status">
      {busy ? (
        <>
          <span className="num">
            {ended} of {files.length} in
          </span>
          <Progress value={(100 * done) / total} w={130} aria-label="Photos coming in" />
          <span className={css.file}>{sending?.name}</span>
          <Button size="compact-xs" variant="default" onClick={stopImport}>
            Stop
          </Button>
        </>
      ) : (
        <>
          <span className="num">
            {plural(files.filter((file) => file.state === "done").length, "photo")} brought in
            {known ? `, ${known} already in the pile` : ""}
          </span>
          <Button size="compact-xs" variant="default" onClick={clear}>
            Close
          </Button>
        </>
      )}
      {refused.length > 0 && (
        <ul className={css.refused}>
          {refused.map((file) => (
            <li key={file.key}>
              <Mark status="look" /> {file.sentence}
            </li>
          ))}
        </ul>
      )}
    </div>
  );
}
