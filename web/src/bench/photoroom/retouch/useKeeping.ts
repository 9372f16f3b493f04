/** How what was drawn on a photo becomes touches of it: what the server is asked for first, what is shown until it is there. */
import { answer, api, type Step, type Touch } from "../../../api/client";
import type { Held } from "../../../editing/fitting";
import { stepsOf } from "../../../editing/standing";
import type { View } from "../../../editing/view";
import type { Point } from "../../../geometry/placing";
import { underWay } from "../../../ui/underWay";
import { useBrush } from "./brush";
import type { Drawing } from "./painting";
import {
  type Area,
  type CoverArea,
  cutOf,
  freshId,
  longer,
  outlined,
  place,
  type Seen,
  shiftAt,
  stroked,
} from "./seen";
import type { Scope, Touches } from "./useTouches";

type Cover = Extract<Touch, { kind: "cover" }>;
/** What the browser draws until the photo as it is then is on the screen; `query` tells the photo as it was. */
export interface Ahead {
  drawing: Drawing;
  query: string;
}

export function useKeeping({
  state,
  now,
  scope,
  touches,
  seen,
  query,
  setKept,
}: {
  state: View;
  now: Held;
  scope: Scope;
  touches: Touches;
  seen: Seen;
  query: string;
  setKept: (kept: Ahead | undefined) => void;
}) {
  const { photo } = now;
  const { set } = useBrush();
  const put = (...fresh: Touch[]) => touches.put(fresh);
  const looking = touches.looking;

  /** Keeps a touch, once its source is found where none was chosen. */
  const cover = async (touch: Cover, what: Drawing) => {
    setKept({ drawing: what, query });
    const failed = () => setKept(undefined);
    if (touch.how === "heal" && !what.source) {
      await underWay(async () => {
        const [found] = await answer<Cover[]>(
          api.POST("/api/photos/{photo}/covered", {
            params: { path: { photo: photo.id } },
            body: { ...looking, touches: [touch] },
          }),
        );
        if (found) touches.put([found], failed);
      }, failed);
    } else touches.put([touch], failed);
  };

  /** What was drawn becomes a touch, by the tool in hand. */
  const keep = (what: Drawing) => {
    const first = what.points[0];
    if (!first) return;
    const { tool, shape, radius, soft, strength, amounts, edges } = useBrush.getState();
    const id = freshId();
    if (tool === "eye") {
      eye(first);
      return;
    }
    const end = what.points.at(-1) ?? first;
    if (tool === "area" && (shape === "round" || shape === "graded")) {
      const long = Math.hypot(end[0] - first[0], end[1] - first[1]);
      if (long < 4 / seen.k) return;
      const across = (n: 0 | 1) => Math.max(0.002, Math.abs(end[n] - first[n]) / longer(photo));
      put({
        kind: "adjust",
        id,
        strength,
        edges,
        ...amounts,
        area:
          shape === "round"
            ? { kind: "round", centre: place(first, photo), across: [across(0), across(1)], soft: 0.5 }
            : { kind: "graded", start: place(first, photo), end: place(end, photo) },
      } as Touch);
      set({ selected: id });
      return;
    }
    const area =
      shape === "outlined"
        ? outlined(what.points, soft, photo)
        : stroked(what.points, what.pressed, radius, soft, photo);
    if (!area) return;
    if (tool === "subject") {
      if (area.kind === "stroke") subject(area, id, what);
      return;
    }
    if (tool === "area") {
      put({ kind: "adjust", id, strength, edges, ...amounts, area } as Touch);
      set({ selected: id });
      return;
    }
    const { source } = what;
    const start = area.points[0] as [number, number];
    const begin: Point = [start[0] * photo.width, start[1] * photo.height];
    cover(
      {
        kind: "cover",
        id,
        strength,
        how: tool as Cover["how"],
        area,
        shift: source ? shiftAt(source, begin, photo) : [0, 0],
        turn_deg: source?.turn_deg ?? 0,
        mirror: source?.mirror ?? false,
        scale: source?.scale ?? 1,
      } as Cover,
      what,
    );
  };

  /** Cuts out what a stroke passes over, to stand free or for what lies behind it to be changed; or alters one cut out before. */
  const subject = async (stroke: Extract<CoverArea, { kind: "stroke" }>, id: string, what: Drawing) => {
    setKept({ drawing: what, query });
    const failed = () => setKept(undefined);
    const { selected, cutting, cutFor, strength, amounts, edges } = useBrush.getState();
    const before = touches.mine.find((touch) => touch.id === selected);
    const begun = cutting === "anew" ? undefined : cutOf(before);
    await underWay(async () => {
      const cut = await answer<Extract<Area, { kind: "cut" }>>(
        api.POST("/api/photos/{photo}/cut", {
          params: { path: { photo: photo.id } },
          body: { ...looking, stroke, begun, away: cutting === "less" },
        }),
      );
      if (begun && before) {
        touches.change(before.id, { area: cut } as Partial<Touch>);
        if (before.kind === "free") failed();
        return;
      }
      const fresh =
        cutFor === "free"
          ? { kind: "free", id, strength, area: cut }
          : {
              kind: "adjust",
              id,
              strength,
              edges: edges || 0.7,
              ...amounts,
              area: { ...cut, outside: true },
            };
      touches.put([fresh as Touch], failed);
      if (cutFor === "free") failed();
      set({ selected: id });
    }, failed);
  };

  const eye = (point: Point) =>
    underWay(async () =>
      put(
        await answer<Touch>(
          api.POST("/api/photos/{photo}/eye", {
            params: { path: { photo: photo.id } },
            body: { ...looking, at: place(point, photo), id: freshId(), steps: [] },
          }),
        ),
      ),
    );

  /** The white balance that makes a place grey, as a step of the photo's tone. */
  const grey = async (point: Point) => {
    const mine = stepsOf(state, photo, scope === "opening" ? now.row.opening : undefined);
    const first = mine.filter(({ kind }) =>
      ["enhance", "levels", "curves", "exposure", "contrast"].includes(kind ?? ""),
    );
    await underWay(async () => {
      const { warmth, tint } = await answer<Extract<Step, { kind: "white_balance" }>>(
        api.POST("/api/photos/{photo}/grey", {
          params: { path: { photo: photo.id } },
          body: { ...looking, at: place(point, photo), id: "grey", steps: first },
        }),
      );
      touches.balance({ warmth, tint });
    });
  };

  return { keep, grey };
}
