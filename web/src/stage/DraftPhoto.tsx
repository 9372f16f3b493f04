import { useEffect, useLayoutEffect, useRef, useState } from "react";
import { type Held, held, useDraftEnds } from "../editing/fitting";
import { useBench } from "../editing/store";
import type { View } from "../editing/view";
import {
  apply,
  boundsOf,
  cssMatrix,
  type Matrix,
  multiply,
  openingFromPhoto,
  type Point,
  path,
  shownOf,
} from "../geometry/placing";
import { laid } from "../geometry/surfaces";
import css from "./stage.module.css";

/** The draft goes once the server's picture of its state, or of a later one, is on the screen; see also `useDraftEnds`. */
export function DraftEnds({ state, onScreen }: { state: View; onScreen: string }) {
  const draft = useBench((bench) => bench.draft);
  useDraftEnds(state);
  const seqs = useRef(new Map<string, number>());
  seqs.current.set(state.key, state.seq);
  useEffect(() => {
    const seq = seqs.current.get(onScreen.match(/drawn\/(\w+)\//)?.[1] ?? "") ?? -1;
    if (draft?.state === "stored" && seq >= (draft.seq ?? 0)) useBench.getState().set({ draft: undefined });
  }, [onScreen, draft]);
  return null;
}

/** While a photo is pulled the browser draws it: clipped by the outline, with what lies outside shown faintly. */
export function DraftPhoto({ state, screenFromPage }: { state: View; screenFromPage: Matrix }) {
  const draft = useBench((bench) => bench.draft);
  const now = draft && held(state, draft.opening, draft);
  if (!now) return null;
  // A photo that runs on through a span is seen in all of it.
  const shapes = now.row.span ? now.row.span_outline : [shownOf(now.row.outline, now.lying)];
  const { matrix } = now.lay;
  const outline = shapes
    .map((shape) => path(laid(shape, now.lay).map((point) => apply(screenFromPage, point))))
    .join("");
  const clip = { clipPath: `path("${outline}")` };
  if (!matrix)
    return (
      <div className={css.clip} style={clip} data-testid="draft">
        <Bent now={now} screenFromPage={screenFromPage} />
      </div>
    );
  const flat = <Flat now={now} screenFromOpening={multiply(screenFromPage, matrix)} />;
  return (
    <>
      {draft.state === "open" && <div className={css.ghost}>{flat}</div>}
      <div className={css.clip} style={clip} data-testid="draft">
        {flat}
      </div>
    </>
  );
}

/** Flat or slanted: the browser's own perspective. */
function Flat({ now, screenFromOpening }: { now: Held; screenFromOpening: Matrix }) {
  const [size, setSize] = useState<{ src: string; width: number; height: number }>();
  const source = now.picture;
  const known = size?.src === source ? size : undefined;
  const screenFromProxy = known
    ? multiply(screenFromOpening, openingFromProxy(now, known.width, known.height))
    : screenFromOpening;
  return (
    <img
      className={css.warped}
      src={source}
      alt=""
      draggable={false}
      style={{ transform: cssMatrix(screenFromProxy), visibility: known ? undefined : "hidden" }}
      onLoad={({ currentTarget: { naturalWidth: width, naturalHeight: height } }) =>
        setSize({ src: source, width, height })
      }
    />
  );
}

const openingFromProxy = ({ outline, photo, lying }: Held, width: number, height: number): Matrix =>
  multiply(openingFromPhoto(outline, photo, lying), [
    photo.width / width, 0, 0, 0, photo.height / height, 0, 0, 0, 1,
  ]); // biome-ignore format: a matrix

const CELLS = 12; // a side: on a cylinder less than half a pixel off on a screen
const MOST = 1200; // px a side of the flat picture that is bent

/** Bent: drawn flat in the opening's plane first, then cell by cell, each as the parallelogram that it nearly is. */
function Bent({ now, screenFromPage }: { now: Held; screenFromPage: Matrix }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const plane = useRef<OffscreenCanvasRenderingContext2D>(null);
  const [photo, setPhoto] = useState<{ source: string; image: ImageBitmap }>();
  const source = now.picture;
  useLayoutEffect(() => {
    let current = true;
    const fresh = new Image();
    fresh.src = source;
    // Decoded once, not at every frame.
    fresh
      .decode()
      .then(() => createImageBitmap(fresh))
      .then((image) => current && setPhoto({ source, image }), console.warn);
    return () => {
      current = false;
    };
  }, [source]);
  const box = boundsOf(now.outline);
  const wide = box.right - box.left;
  const high = box.bottom - box.top;
  const cornerAt = (i: number, j: number): Point =>
    apply(screenFromPage, now.lay.to([box.left + (wide * i) / CELLS, box.top + (high * j) / CELLS]));
  const nodes = Array.from({ length: CELLS + 1 }, (_, j) =>
    Array.from({ length: CELLS + 1 }, (_, i) => cornerAt(i, j)),
  );
  const seen = boundsOf(nodes.flat());
  useLayoutEffect(() => {
    const to = canvas.current?.getContext("2d");
    if (!to || photo?.source !== source) return;
    const k = Math.min(screenFromPage[0] ?? 1, MOST / Math.max(wide, high));
    // Kept between frames: making one costs more than drawing it.
    const [w, h] = [Math.ceil(wide * k) + 1, Math.ceil(high * k) + 1];
    if (plane.current?.canvas.width !== w || plane.current.canvas.height !== h)
      plane.current = new OffscreenCanvas(w, h).getContext("2d");
    const from = plane.current;
    if (!from) return;
    const onto = multiply(
      [k, 0, -box.left * k, 0, k, -box.top * k, 0, 0, 1],
      openingFromProxy(now, photo.image.width, photo.image.height),
    );
    const [a = 1, c = 0, e = 0, b = 0, d = 1, f = 0] = onto;
    from.resetTransform();
    from.clearRect(0, 0, w, h);
    from.setTransform(a, b, c, d, e, f);
    from.drawImage(photo.image, 0, 0);
    const [cw, ch] = [(wide * k) / CELLS, (high * k) / CELLS];
    to.resetTransform();
    to.clearRect(0, 0, to.canvas.width, to.canvas.height);
    for (let j = 0; j < CELLS; j++)
      for (let i = 0; i < CELLS; i++) {
        const [p, q, r] = [nodes[j]?.[i], nodes[j]?.[i + 1], nodes[j + 1]?.[i]] as [Point, Point, Point];
        to.setTransform(
          (q[0] - p[0]) / cw,
          (q[1] - p[1]) / cw,
          (r[0] - p[0]) / ch,
          (r[1] - p[1]) / ch,
          p[0] - seen.left,
          p[1] - seen.top,
        );
        // A little over, so that no seam shows.
        const [over, under] = [Math.min(cw + 1, w - i * cw), Math.min(ch + 1, h - j * ch)];
        to.drawImage(from.canvas, i * cw, j * ch, over, under, 0, 0, over, under);
      }
  });
  return (
    <canvas
      ref={canvas}
      className={css.warped}
      width={Math.ceil(seen.right - seen.left)}
      height={Math.ceil(seen.bottom - seen.top)}
      style={{ left: seen.left, top: seen.top }}
    />
  );
}
