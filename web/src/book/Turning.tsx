import { Button } from "@mantine/core";
import { useDocumentTitle } from "@mantine/hooks";
import { useEffect, useRef, useState } from "react";
import { Link, useLocation } from "wouter";
import { sheetPicture } from "../api/client";
import { editionIn, editionNamed, jobAddress, useAsked } from "../editing/addresses";
import { useLayout } from "../editing/layouts";
import { useJobStore } from "../editing/useJob";
import type { View } from "../editing/view";
import { Waiting } from "../ui/Waiting";
import { t } from "../words";
import css from "./turning.module.css";

const pageOf = (key: string) => sheetPicture(key, 1600);

/** A book as it will lie: its sheets turned one after the other, with the shade of the fold. */
export function Turning({ job }: { job: string }) {
  const store = useJobStore(job, useAsked("edition"));
  const view = store.viewOf("");
  return view && !store.error ? <Loaded state={view} /> : <Waiting for={store} />;
}

function Loaded({ state }: { state: View }) {
  const [at, setAt] = useState(0);
  const [from, setFrom] = useState<{ at: number; by: number }>();
  const screen = useRef<HTMLElement>(null);
  const last = state.sheets.length - 1;
  const turn = (to: number) => {
    const next = Math.min(last, Math.max(0, to));
    if (next === at) return;
    setFrom({ at, by: Math.sign(next - at) });
    setAt(next);
  };
  const [, go] = useLocation();
  const plan = jobAddress(state.id, { edition: editionIn(state) }, "plan");
  const keys = useRef<(event: KeyboardEvent) => void>(() => {});
  keys.current = (event) => {
    const { key } = event;
    if (key === "ArrowRight" || key === "PageDown" || key === " ") turn(at + 1);
    else if (key === "ArrowLeft" || key === "PageUp") turn(at - 1);
    else if (key === "Home") turn(0);
    else if (key === "End") turn(last);
    else if (key.toLowerCase() === "f") whole();
    else if (key === "Escape") go(plan);
    else return;
    event.preventDefault();
  };
  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      if (!(event.target instanceof HTMLButtonElement && event.key === " ")) keys.current(event);
    };
    addEventListener("keydown", press);
    return () => removeEventListener("keydown", press);
  }, []);
  useDocumentTitle(t("{name}, its pages, Sutaru", { name: state.job.name }));
  const whole = () =>
    document.fullscreenElement ? document.exitFullscreen() : screen.current?.requestFullscreen();
  // The sheets beside are at hand before one turns to them.
  const next = state.marks[at + 1]?.key;
  const former = state.marks[at - 1]?.key;
  useLayout(state.sheets[at + 1]?.layout);
  useLayout(state.sheets[at - 1]?.layout);
  useEffect(() => {
    for (const key of [next, former]) if (key) new Image().src = pageOf(key);
  }, [next, former]);
  const binding = state.job.book?.binding;
  const covers = state.sheets[at]?.role === "cover";
  return (
    <main className={css.turning} ref={screen}>
      <header>
        <Link href={plan}>{t("Back to the flat plan")}</Link>
        <h1 className="heading">{state.job.name}</h1>
        <span className="num" role="status">
          {editionNamed(state)}
          {state.sheets[at]?.name}
          {`, ${t("{number} of {total}", { number: at + 1, total: last + 1 })}`}
        </span>
        <Button variant="default" size="compact-sm" disabled={at === 0} onClick={() => turn(at - 1)}>
          {t("Previous")}
        </Button>
        <Button variant="default" size="compact-sm" disabled={at === last} onClick={() => turn(at + 1)}>
          {t("Next")}
        </Button>
        <Button variant="default" size="compact-sm" onClick={whole}>
          {t("Full screen")}
        </Button>
        <Button
          variant="default"
          size="compact-sm"
          component="a"
          href={`/api/jobs/${state.id}/proof.html?edition=${state.own.id}`}
          download
        >
          {t("Proof for the customer")}
        </Button>
      </header>
      <div className={css.table}>
        <Sheet key={`now ${at}`} state={state} at={at} coming={from?.by} />
        {from && <Sheet key={`was ${from.at} ${at}`} state={state} at={from.at} going={from.by} />}
      </div>
      <p className={css.note}>
        {covers && binding && !binding.inside_printed
          ? t("The inside of the cover stays blank: the lab does not print it.")
          : t("Arrows turn; F fills the screen.")}
      </p>
    </main>
  );
}

/** One sheet, cut to its trim: opened flat, or turning away. */
function Sheet({ state, at, coming, going }: { state: View; at: number; coming?: number; going?: number }) {
  const sheet = state.sheets[at];
  const layout = useLayout(sheet?.layout);
  if (!sheet || !layout) return null;
  const { width_mm, height_mm, bleed_mm = 3 } = layout;
  const swallowed = sheet.role === "spread" ? (state.job.book?.binding.swallows_mm ?? 0) : 0;
  const folds = (layout.lines ?? []).filter((line) => line.axis === "x");
  const key = state.marks[at]?.key ?? "";
  return (
    <div
      className={css.sheet}
      data-coming={coming}
      data-going={going}
      style={{ aspectRatio: width_mm / height_mm, "--ratio": width_mm / height_mm } as React.CSSProperties}
    >
      <img
        src={pageOf(key)}
        alt={sheet.name}
        style={{
          width: `${100 * (1 + (2 * bleed_mm) / width_mm)}%`,
          left: `${(-100 * bleed_mm) / width_mm}%`,
          top: `${(-100 * bleed_mm) / height_mm}%`,
        }}
      />
      {folds.map((line) => (
        <div
          key={`${line.kind} ${line.at_mm}`}
          className={css.fold}
          style={{ left: `${(100 * line.at_mm) / width_mm}%` }}
        />
      ))}
      {swallowed > 0 && (
        <div
          className={css.lost}
          title={t("About {swallowed} mm of each page is hidden in the binding", { swallowed })}
          style={{ left: "50%", width: `${(200 * swallowed) / width_mm}%` }}
        />
      )}
    </div>
  );
}
