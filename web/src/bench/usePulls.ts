/** Pulling with the pointer: how a photo lies in its opening, or carrying it to another. All of it can be seen at once. */

import { type PointerEvent, type RefObject, useEffect, useRef, useState } from "react";
import { type Row, thumb } from "../api/client";
import { spot, useChange } from "../editing/changes";
import { type Held, held, useFitting } from "../editing/fitting";
import { drawnToLines, drawnTurn } from "../editing/snapping";
import { useBench } from "../editing/store";
import type { View } from "../editing/view";
import type { Drawn } from "../geometry/lines";
import { apply, inverse, type Matrix, multiply, type Point, shifted, zoomed } from "../geometry/placing";
import { pointerIn } from "../stage/pointer";
import { useEscape } from "../ui/useEscape";
import { usePicked } from "../ui/usePicked";
import { t } from "../words";
import { useClear } from "./clearing";
import { usePutDown } from "./pile/hand";

type Pull =
  | { kind: "shift"; held: Held; from: Point }
  | { kind: "turn"; held: Held; from: number }
  | { kind: "zoom"; held: Held; from: number }
  | { kind: "carry"; opening: string; start: Point; moved: boolean };
type At = { clientX: number; clientY: number };

/** The opening under the pointer. */
const openingUnder = ({ clientX, clientY }: At): string | undefined =>
  document
    .elementsFromPoint(clientX, clientY)
    .find((element) => element.getAttribute("data-opening"))
    ?.getAttribute("data-opening") ?? undefined;

const turnOf = ([x, y]: Point) => (Math.atan2(-y, x) * 180) / Math.PI;

export function usePulls(
  state: View,
  svg: RefObject<SVGSVGElement | null>,
  screenFromPage: Matrix,
  scale: number,
) {
  const { selected, also, hand, set } = usePicked(useBench, "selected", "also", "hand", "set");
  const { edit } = useChange(state);
  const { show, keep, drop } = useFitting(state);
  const putDown = usePutDown(state);
  const clear = useClear(state);
  const pull = useRef<Pull>(undefined);
  const latest = useRef(
    {} as {
      state: View;
      selected?: string;
      inOpening: (row: Row, event: At) => Point;
      show: typeof show;
      keep: typeof keep;
      cancel: () => void;
    },
  );
  const [over, setOver] = useState<string>();
  const [carried, setCarried] = useState<{ photo: string; at: Point; what: string }>();
  const [lines, setLines] = useState<Drawn>();
  const [pulling, setPulling] = useState(false);

  const pointOf = (event: At): Point => pointerIn(svg.current, event);
  const inOpening = (row: Row, event: At): Point =>
    apply(inverse(multiply(screenFromPage, row.page_from_opening)), pointOf(event));

  /** A press on an opening: puts down what is in hand, picks several, takes hold of the photo, or selects. */
  const down = (event: PointerEvent, row: Row) => {
    if (event.button !== 0) return;
    event.stopPropagation();
    if (hand) {
      putDown(row.opening);
      return;
    }
    if ((event.shiftKey || event.ctrlKey || event.metaKey) && selected) {
      const others = also.includes(row.opening)
        ? also.filter((opening) => opening !== row.opening)
        : [...also, row.opening];
      if (row.opening !== selected) set({ selected, also: others });
      return;
    }
    const now = held(state, row.opening);
    svg.current?.setPointerCapture(event.pointerId);
    if (now && selected === row.opening && !event.altKey)
      pull.current = { kind: "shift", held: now, from: inOpening(row, event) };
    else if (now) pull.current = { kind: "carry", opening: row.opening, start: pointOf(event), moved: false };
    setPulling(!!pull.current);
    set({ selected: row.opening });
  };

  /** A press on one of the handles. */
  const handle = (event: PointerEvent, kind: "turn" | "zoom", now: Held) => {
    event.stopPropagation();
    svg.current?.setPointerCapture(event.pointerId);
    const point = inOpening(now.row, event);
    const from = kind === "turn" ? turnOf(point) : Math.max(1, Math.hypot(...point));
    pull.current = { kind, held: now, from };
    setPulling(true);
  };

  /** A press on the handle that carries the photo to another opening. */
  const carry = (event: PointerEvent, now: Held) => {
    event.stopPropagation();
    svg.current?.setPointerCapture(event.pointerId);
    pull.current = { kind: "carry", opening: now.row.opening, start: pointOf(event), moved: false };
    setPulling(true);
  };
  /** What letting go would do, in words. */
  const doing = (from: string, target: string | undefined, event: At): string => {
    const row = state.rows.find((entry) => entry.opening === target);
    if (row && row.opening !== from)
      return row.photo
        ? t("swap with {number}", { number: row.number })
        : t("move to {number}", { number: row.number });
    if (document.elementFromPoint(event.clientX, event.clientY)?.closest("[data-pile]"))
      return t("back to the pile");
    return t("nothing changes");
  };

  const move = (event: PointerEvent) => {
    const now = pull.current;
    if (!now) return;
    if (now.kind === "carry") {
      const point = pointOf(event);
      if (!now.moved && Math.hypot(point[0] - now.start[0], point[1] - now.start[1]) < 5) return;
      now.moved = true;
      const photo = held(state, now.opening)?.photo;
      const target = openingUnder(event);
      if (photo) setCarried({ photo: thumb(photo), at: point, what: doing(now.opening, target, event) });
      setOver(target === now.opening ? undefined : target);
      return;
    }
    const { row, outline, photo, lying } = now.held;
    const here = inOpening(row, event);
    if (now.kind === "shift") {
      const pulled = shifted(outline, photo, lying, [here[0] - now.from[0], here[1] - now.from[1]]);
      const drawn = event.altKey ? { lying: pulled } : drawnToLines(now.held, pulled, 6 / scale);
      setLines(drawn.lines);
      show(row.opening, drawn.lying);
    }
    if (now.kind === "turn") {
      const turn_deg = drawnTurn(lying.turn_deg + turnOf(here) - now.from, event.altKey);
      show(row.opening, zoomed(outline, photo, { ...lying, turn_deg }, 1, [0, 0]));
    }
    if (now.kind === "zoom")
      show(row.opening, zoomed(outline, photo, lying, Math.hypot(...here) / now.from, [0, 0]));
  };

  const ended = () => {
    const now = pull.current;
    pull.current = undefined;
    setPulling(false);
    setCarried(undefined);
    setOver(undefined);
    setLines(undefined);
    return now;
  };
  const up = (event: PointerEvent) => {
    const now = ended();
    if (!now) return;
    if (now.kind !== "carry") {
      keep();
      return;
    }
    const target = now.moved ? openingUnder(event) : undefined;
    if (target && target !== now.opening) {
      edit({
        op: "swap",
        first: spot(state, now.opening),
        second: spot(state, target),
        keep_fit: event.shiftKey,
      });
      set({ selected: target });
    } else if (now.moved && document.elementFromPoint(event.clientX, event.clientY)?.closest("[data-pile]"))
      clear([now.opening]);
  };
  /** As it was before the pull. */
  const cancel = () => {
    if (ended()) drop();
  };
  useEscape(Boolean(pulling), () => latest.current.cancel());

  // The wheel zooms the selected photo about the pointer; React's own wheel listeners cannot hold the page still.
  latest.current = { state, selected, inOpening, show, keep, cancel };
  useEffect(() => {
    const target = svg.current;
    let timer: ReturnType<typeof setTimeout> | undefined;
    const wheel = (event: WheelEvent) => {
      const { state, selected, inOpening, show, keep } = latest.current;
      const on = (event.target as Element).getAttribute("data-opening");
      // A wheel by itself moves the view, never a crop.
      const now = on && on === selected && event.altKey ? held(state, on) : undefined;
      if (!now) return;
      event.preventDefault();
      const factor = Math.exp(-event.deltaY / 600);
      show(now.row.opening, zoomed(now.outline, now.photo, now.lying, factor, inOpening(now.row, event)));
      clearTimeout(timer);
      timer = setTimeout(keep, 300);
    };
    target?.addEventListener("wheel", wheel, { passive: false });
    return () => target?.removeEventListener("wheel", wheel);
  }, [svg]);

  return { down, handle, carry, move, up, cancel, pulling, putDown, over, setOver, carried, lines };
}
