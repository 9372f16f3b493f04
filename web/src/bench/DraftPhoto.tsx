import { useLayoutEffect, useRef, useState } from "react";
import { type JobState, proxy } from "../api/client";
import { type Held, held } from "./fitting";
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
} from "./placing";
import css from "./sheet.module.css";
import { useBench } from "./store";
import { laid } from "./surfaces";

/** While a photo is pulled the browser draws it: clipped by the outline, with what lies outside shown faintly. */
export function DraftPhoto({ state, screenFromPage }: { state: JobState; screenFromPage: Matrix }) {
  const draft = useBench((bench) => bench.draft);
  const now = draft && held(state, draft.opening, draft);
  if (!now) return null;
  // A photo that runs on through a span is seen in all of it.
  const shapes = now.row.span
    ? (now.row.span_outline as unknown as Point[][])
    : [shownOf(now.row.outline as unknown as Point[], now.lying)];
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
      {draft.revision === undefined && <div className={css.ghost}>{flat}</div>}
      <div className={css.clip} style={clip} data-testid="draft">
        {flat}
      </div>
    </>
  );
}

/** Flat or slanted: the browser's own perspective. */
function Flat({ now, screenFromOpening }: { now: Held; screenFromOpening: Matrix }) {
  const [size, setSize] = useState<{ src: string; width: number; height: number }>();
  const source = proxy(now.photo);
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

const CELLS = 24;
const MOST = 1200; // px a side of the flat picture that is bent

/** Bent: drawn flat in the opening's plane first, then cell by cell, each as the parallelogram that it nearly is. */
function Bent({ now, screenFromPage }: { now: Held; screenFromPage: Matrix }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const [image, setImage] = useState<HTMLImageElement>();
  const source = proxy(now.photo);
  useLayoutEffect(() => {
    const fresh = new Image();
    fresh.src = source;
    fresh.decode().then(() => setImage(fresh), console.warn);
  }, [source]);
  const box = boundsOf(now.outline);
  const wide = box.right - box.left;
  const high = box.bottom - box.top;
  const at = (i: number, j: number): Point =>
    apply(screenFromPage, now.lay.to([box.left + (wide * i) / CELLS, box.top + (high * j) / CELLS]));
  const nodes = Array.from({ length: CELLS + 1 }, (_, j) =>
    Array.from({ length: CELLS + 1 }, (_, i) => at(i, j)),
  );
  const seen = boundsOf(nodes.flat());
  useLayoutEffect(() => {
    const to = canvas.current?.getContext("2d");
    if (!to || !image || image.src !== new URL(source, location.href).href) return;
    const k = Math.min(screenFromPage[0] ?? 1, MOST / Math.max(wide, high));
    const flat = new OffscreenCanvas(Math.ceil(wide * k) + 1, Math.ceil(high * k) + 1);
    const plane = flat.getContext("2d");
    if (!plane) return;
    const onto = multiply(
      [k, 0, -box.left * k, 0, k, -box.top * k, 0, 0, 1],
      openingFromProxy(now, image.naturalWidth, image.naturalHeight),
    );
    const [a = 1, c = 0, e = 0, b = 0, d = 1, f = 0] = onto;
    plane.setTransform(a, b, c, d, e, f);
    plane.drawImage(image, 0, 0);
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
        const [w, h] = [Math.min(cw + 1, flat.width - i * cw), Math.min(ch + 1, flat.height - j * ch)];
        to.drawImage(flat, i * cw, j * ch, w, h, 0, 0, w, h);
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
