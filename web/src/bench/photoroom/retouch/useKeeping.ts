/** How what was drawn on a photo becomes touches of it: what the server is asked for first, what is shown until it is there. */
import { answer, api, type Photo, type Step, type Touch } from "../../../api/client";
import type { Point } from "../../../geometry/placing";
import { useBrush } from "./brush";
import type { Brush, Drawing } from "./painting";
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
import type { Looking, Touches } from "./useTouches";

type Cover = Extract<Touch, { kind: "cover" }>;
type Cut = Extract<Area, { kind: "cut" }>;
/** What the browser draws until the photo is on the screen with the touch in it. */
export interface Ahead {
  id: string;
  drawing: Drawing;
  brush: Brush;
}

export function useKeeping({
  photo,
  touches,
  seen,
  setKept,
}: {
  photo: Photo;
  touches: Touches;
  seen: Seen;
  setKept: (change: (strokes: Ahead[]) => Ahead[]) => void;
}) {
  const { set } = useBrush();
  const path = { photo: photo.id };

  /** Draws what was drawn until it is in the photo. */
  const hold = (id: string, drawing: Drawing) => {
    const { soft, strength, shape, radius } = useBrush.getState();
    const brush = { outlined: shape === "outlined", radius: radius * longer(photo), soft, strength };
    setKept((strokes) => [...strokes, { id, drawing, brush }]);
  };

  /** Keeps a touch, once its source is found where none was chosen. */
  const cover = (touch: Cover, what: Drawing) => {
    hold(touch.id, what);
    if (touch.how !== "heal" || what.source) touches.put([touch]);
    else
      touches.putFound(
        touch.id,
        (looking) =>
          answer<Cover[]>(
            api.POST("/api/photos/{photo}/covered", {
              params: { path },
              body: { ...looking, touches: [touch] },
            }),
          ),
        { meanwhile: touch },
      );
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
      touches.put([
        {
          kind: "adjust",
          id,
          strength,
          edges,
          ...amounts,
          area:
            shape === "round"
              ? { kind: "round", centre: place(first, photo), across: [across(0), across(1)], soft: 0.5 }
              : { kind: "graded", start: place(first, photo), end: place(end, photo) },
        } as Touch,
      ]);
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
      hold(id, what);
      touches.put([{ kind: "adjust", id, strength, edges, ...amounts, area } as Touch]);
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
  const subject = (stroke: Extract<CoverArea, { kind: "stroke" }>, id: string, what: Drawing) => {
    const { selected, cutting, cutFor, strength, amounts, edges } = useBrush.getState();
    hold(id, what);
    const cutAs = async (looking: Looking, begun: Cut | undefined) =>
      answer<Cut>(
        api.POST("/api/photos/{photo}/cut", {
          params: { path },
          body: { ...looking, stroke, begun, away: cutting === "less" },
        }),
      );
    if (cutting !== "anew" && cutOf(touches.mine.find((touch) => touch.id === selected)))
      touches.putFound(id, async (looking, mine) => {
        const before = mine.find((touch) => touch.id === selected);
        if (!before) return [];
        return [{ ...before, area: await cutAs(looking, cutOf(before)) } as Touch];
      });
    else
      touches.putFound(
        id,
        async (looking) => {
          const area = await cutAs(looking, undefined);
          const behind = {
            kind: "adjust",
            id,
            strength,
            edges: edges || 0.7,
            ...amounts,
            area: { ...area, outside: true },
          };
          return [(cutFor === "free" ? { kind: "free", id, strength, area } : behind) as Touch];
        },
        { onStored: () => set({ selected: id }) },
      );
  };

  const eye = (point: Point) => {
    const id = freshId();
    touches.putFound(id, async (looking) => [
      await answer<Touch>(
        api.POST("/api/photos/{photo}/eye", {
          params: { path },
          body: { ...looking, at: place(point, photo), id, steps: [] },
        }),
      ),
    ]);
  };

  /** The white balance that makes a place grey, as a step of the photo's tone. */
  const grey = (point: Point) =>
    touches.balanceFound((steps, looking) =>
      answer<Extract<Step, { kind: "white_balance" }>>(
        api.POST("/api/photos/{photo}/grey", {
          params: { path },
          body: {
            ...looking,
            at: place(point, photo),
            id: "grey",
            steps: steps.filter(({ kind }) => BEFORE_BALANCE.has(kind ?? "")),
          },
        }),
      ),
    );

  return { keep, grey };
}

/** Steps of tone that go before white balance. */
const BEFORE_BALANCE = new Set(["enhance", "levels", "curves", "exposure", "contrast"]);
