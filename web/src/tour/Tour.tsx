import { ActionIcon, Button } from "@mantine/core";
import IconX from "@tabler/icons-react/icons/IconX";
import type { ReactNode } from "react";
import { Link, useLocation } from "wouter";
import { answer, api } from "../api/client";
import { client } from "../api/queries";
import { complain } from "../ui/complain";
import { t, tn } from "../words";
import { weave } from "../words/weave";
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
    <aside className={css.tour} aria-label={t("Tour")}>
      <ActionIcon
        className={css.leave}
        variant="subtle"
        color="gray.9"
        aria-label={t("Leave the tour")}
        onClick={() => tour.set("")}
      >
        <IconX size={15} />
      </ActionIcon>
      <div role="status">
        <h2>
          {step !== "done" && (
            <small className="num">
              {t("{number} of {total}", { number: STEPS.indexOf(step) + 1, total: STEPS.length - 1 })}
            </small>
          )}
          {title}
        </h2>
        {what}
      </div>
      {step === "done" && (
        <div className={css.ways}>
          <Button size="compact-sm" component={Link} href="/" onClick={() => tour.set("")}>
            {t("Keep it, to the shelf")}
          </Button>
          <Button size="compact-sm" variant="default" onClick={end}>
            {t("Delete this job")}
          </Button>
        </div>
      )}
    </aside>
  );
}

const SHOWN = {
  key: (text: string) => <kbd>{text}</kbd>,
  button: (text: string) => <em>{text}</em>,
  manual: (text: string) => <a href="/manual">{text}</a>,
};

const SAID: Record<Step, (standing: Standing, job: string) => [title: string, what: ReactNode]> = {
  fill: ({ openings, filled }) => [
    t("Fill the openings"),
    <p key="what">
      {weave(
        tn(
          openings - filled,
          "The customer's photos lie in the pile below. Press <key>F</key>, or <button>Fill</button> above: the empty opening gets the photo that suits it best.",
          "The customer's photos lie in the pile below. Press <key>F</key>, or <button>Fill</button> above: each of the {n} empty openings gets the photo that suits it best.",
        ),
        SHOWN,
      )}
    </p>,
  ],
  mend: ({ screen }, job) => [
    t("Mend what is marked"),
    screen === "bench" ? (
      <p key="what">
        {weave(
          t(
            "A red square blocks the export: this photo has too few pixels for its opening. Click a photo in the pile to pick it up, then click the opening. <key>Ctrl Z</key> undoes anything.",
          ),
          SHOWN,
        )}
      </p>
    ) : (
      <p key="what">
        {t("Something blocks the export still.")} <Link href={`/jobs/${job}`}>{t("Back to the bench")}</Link>
      </p>
    ),
  ],
  dispatch: () => [
    t("Look it over, then dispatch"),
    <p key="what">
      {weave(
        t(
          "Click a photo and pull it to move it in its opening, or press <key>Enter</key> to walk from one to the next. When all is well, press <button>Dispatch</button>.",
        ),
        SHOWN,
      )}
    </p>,
  ],
  export: () => [
    t("Export for the lab"),
    <p key="what">
      {weave(
        t(
          "The lab sheet says what this lab prints from: format, resolution, bleed, colours. Press <button>Export</button>: the print file is written and checked.",
        ),
        SHOWN,
      )}
    </p>,
  ],
  done: () => [
    t("That was a whole job"),
    <p key="what">
      {weave(
        t(
          "Photos in, filled, mended, exported. <manual>The manual</manual> goes on from here: books, calendars, cards, orders.",
        ),
        SHOWN,
      )}
    </p>,
  ],
};
