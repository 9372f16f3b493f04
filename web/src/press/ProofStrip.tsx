import { CloseButton, SegmentedControl, Tooltip } from "@mantine/core";
import { useQuery } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { answer, api, type Figures, type LabSheet, type PressFacts } from "../api/client";
import { useBench } from "../editing/store";
import type { Point } from "../geometry/placing";
import { pointerIn } from "../stage/pointer";
import { fixed } from "../ui/format";
import { t } from "../words";
import css from "./press.module.css";
import { type ProofView, VIEWS } from "./views";

const PAUSE_MS = 60;

export function usePresses() {
  return useQuery({
    queryKey: ["presses"],
    queryFn: ({ signal }) => answer<PressFacts[]>(api.GET("/api/presses", { signal })),
    staleTime: Infinity,
  });
}

/** The press a lab sheet names, and whether it has inks to be seen apart. */
export function usePressOf(lab: LabSheet): { name: string; inks: boolean } {
  const presses = usePresses();
  const id = lab.press?.profile ?? "fogra39";
  const shipped = presses.data?.find((one) => one.id === id);
  const press = useQuery({
    queryKey: ["asset", id],
    queryFn: ({ signal }) =>
      answer<{ profile: { description: string; space: string } | null }>(
        api.GET("/api/assets/{name}", { signal, params: { path: { name: id } } }),
      ),
    enabled: id.length === 64,
    staleTime: Infinity,
  });
  const name = shipped?.name ?? press.data?.profile?.description ?? t("The lab's own press");
  return { name, inks: (shipped?.space ?? press.data?.profile?.space ?? "CMYK") === "CMYK" };
}

/** Which of the press's views is shown, and the figures of the place under the pointer. */
export function ProofStrip({ lab, figures }: { lab: LabSheet; figures: Figures | undefined }) {
  const proof = useBench((bench) => bench.proof);
  const set = useBench((bench) => bench.set);
  const { name, inks } = usePressOf(lab);
  if (!proof) return null;
  const views = VIEWS.filter(([view]) => inks || ["paper", "press", "reach"].includes(view));
  return (
    <section className={css.strip} aria-label={t("As the press prints it")}>
      {/* Above what is clicked, which stays where it is when the figures need another line. */}
      <p className={`${css.figures} num`} aria-live="off">
        {figures ? (
          <Told figures={figures} limit={lab.press?.ink_limit ?? 320} />
        ) : (
          `${name}. ${lab.press ? t("Point at a place to read its inks.") : t("This lab sheet names no press.")}`
        )}
      </p>
      <div className={css.row}>
        <SegmentedControl
          size="xs"
          aria-label={t("What of the press is shown")}
          value={proof}
          onChange={(value) => set({ proof: value as ProofView })}
          data={views.map(([value, label, what]) => ({ value, label: <span title={what}>{label}</span> }))}
        />
        <Tooltip label={t("Leave the press's view (O)")}>
          <CloseButton
            size="sm"
            aria-label={t("Leave the press's view")}
            onClick={() => set({ proof: undefined })}
          />
        </Tooltip>
      </div>
    </section>
  );
}

function Told({ figures, limit }: { figures: Figures; limit: number }) {
  const inks = (figures.inks ?? []) as number[];
  const lab = figures.lab;
  const rgb = figures.rgb;
  const whole = (v: number) => `${Math.round(v)}`.replace("-", "−");
  return (
    <>
      <span>{t("RGB {rgb}", { rgb: rgb.join(" ") })}</span>
      {inks.length > 0 && <span>{inks.map((v, n) => `${"CMYK"[n]} ${Math.round(v)}`).join("  ")} %</span>}
      <span>L*a*b* {lab.map(whole).join(" ")}</span>
      {inks.length > 0 && (
        <span
          title={t("The press takes {limit} %", { limit })}
          data-over={(figures.ink_sum ?? 0) > limit || undefined}
        >
          {t("ink {ink_sum} %", { ink_sum: Math.round(figures.ink_sum ?? 0) })}
        </span>
      )}
      <span data-over={(figures.moved ?? 0) > 3 || undefined}>ΔE {fixed(figures.moved ?? 0, 1)}</span>
    </>
  );
}

/** Asks for the figures of the place the pointer stands at, once it rests there for a moment. Lies on the sheet, unseen. */
export function PointedAt({
  picture,
  scale,
  bleed,
  onFigures,
}: {
  picture: string;
  scale: number;
  bleed: number;
  onFigures: (figures: Figures | undefined) => void;
}) {
  const here = useRef<HTMLSpanElement>(null);
  const [at, setAt] = useState<Point>();
  useEffect(() => {
    const drawing = here.current?.parentElement;
    let timer = 0;
    const moved = (event: PointerEvent) => {
      const [x, y] = pointerIn(drawing, event);
      clearTimeout(timer);
      timer = window.setTimeout(() => setAt([x / scale - bleed, y / scale - bleed]), PAUSE_MS);
    };
    const left = () => {
      clearTimeout(timer);
      setAt(undefined);
    };
    drawing?.addEventListener("pointermove", moved);
    drawing?.addEventListener("pointerleave", left);
    return () => {
      clearTimeout(timer);
      drawing?.removeEventListener("pointermove", moved);
      drawing?.removeEventListener("pointerleave", left);
    };
  }, [scale, bleed]);
  const found = useQuery({
    queryKey: ["figures", picture, at?.[0], at?.[1]],
    queryFn: ({ signal }) =>
      answer<Figures>(
        api.GET("/api/drawn/{key}/figures", {
          signal,
          params: { path: { key: picture }, query: { x: at?.[0] ?? 0, y: at?.[1] ?? 0 } },
        }),
      ),
    enabled: Boolean(at),
    retry: false,
    gcTime: 1000,
    placeholderData: (before) => before,
  });
  const shown = at ? found.data : undefined;
  useEffect(() => onFigures(shown), [shown, onFigures]);
  return <span ref={here} hidden />;
}
