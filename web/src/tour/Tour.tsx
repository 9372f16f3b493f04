import { ActionIcon, Button } from "@mantine/core";
import IconX from "@tabler/icons-react/icons/IconX";
import type { ReactNode } from "react";
import { Link, useLocation } from "wouter";
import { answer, api } from "../api/client";
import { client } from "../api/queries";
import { complain } from "../ui/complain";
import { plural } from "../ui/format";
import { nextStep, STEPS, type Standing, type Step } from "./steps";
import { useTour } from "./tour";
import css from "./tour.module.css";

/** What is to be done next in the tour's job, beside the work; nothing in any other job. */
export function Tour({ job, standing }: { job: string; standing: Standing }) {
  const tour = useTour();
  const [, go] = useLocation();
  if (tour.job !== job) return null;
  const step = nextStep(standing);
  const [title, what] = SAID[step](standing, job);
  const end = async () => {
    tour.set("");
    try {
      await answer(api.DELETE("/api/jobs/{job}", { params: { path: { job } } }));
      client.invalidateQueries({ queryKey: ["jobs"] });
      go("/");
    } catch (error) {
      complain(error);
    }
  };
  return (
    <aside className={css.tour} aria-label="Tour">
      <ActionIcon
        className={css.leave}
        variant="subtle"
        color="gray.9"
        aria-label="Leave the tour"
        onClick={() => tour.set("")}
      >
        <IconX size={15} />
      </ActionIcon>
      <div role="status">
        <h2>
          {step !== "done" && (
            <small className="num">{`${STEPS.indexOf(step) + 1} of ${STEPS.length - 1}`}</small>
          )}
          {title}
        </h2>
        {what}
      </div>
      {step === "done" && (
        <div className={css.ways}>
          <Button size="compact-sm" component={Link} href="/" onClick={() => tour.set("")}>
            Keep it, to the shelf
          </Button>
          <Button size="compact-sm" variant="default" onClick={end}>
            Delete this job
          </Button>
        </div>
      )}
    </aside>
  );
}

const SAID: Record<Step, (standing: Standing, job: string) => [title: string, what: ReactNode]> = {
  fill: ({ openings, filled }) => [
    "Fill the openings",
    <p key="what">
      The customer's photos lie in the pile below. Press <kbd>F</kbd>, or <em>Fill</em> above: each of the{" "}
      {plural(openings - filled, "empty opening")} gets the photo that suits it best.
    </p>,
  ],
  mend: ({ screen }, job) => [
    "Mend what is marked",
    screen === "bench" ? (
      <p key="what">
        A red square blocks the export: this photo has too few pixels for its opening. Click a photo in the
        pile to pick it up, then click the opening. <kbd>Ctrl Z</kbd> undoes anything.
      </p>
    ) : (
      <p key="what">
        Something blocks the export still. <Link href={`/jobs/${job}`}>Back to the bench</Link>
      </p>
    ),
  ],
  dispatch: () => [
    "Look it over, then dispatch",
    <p key="what">
      Click a photo and pull it to move it in its opening, or press <kbd>Enter</kbd> to walk from one to the
      next. When all is well, press <em>Dispatch</em>.
    </p>,
  ],
  export: () => [
    "Export for the lab",
    <p key="what">
      The lab sheet says what this lab prints from: format, resolution, bleed, colours. Press <em>Export</em>:
      the print file is written and checked.
    </p>,
  ],
  done: () => [
    "That was a whole job",
    <p key="what">
      Photos in, filled, mended, exported. <a href="/manual">The manual</a> goes on from here: books,
      calendars, cards, orders.
    </p>,
  ],
};
