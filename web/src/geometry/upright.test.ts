import { describe, expect, it } from "vitest";
import type { KeepArea, Upright } from "../api/client";
import type { Point } from "./placing";
import { upright } from "./placing.cases.json";
import { areaThrough, turned } from "./upright";

describe("a photo that is put upright", () => {
  it("has its places where the core has them, and back", () => {
    for (const { upright: said, width, height, points, onto } of upright) {
      const by = turned(said as unknown as Upright, { width, height });
      if (!by) throw new Error("nothing is turned");
      points.forEach((point, n) => {
        const [x, y] = by.to(point as unknown as Point);
        expect(x).toBeCloseTo(onto[n]?.[0] as number, 2);
        expect(y).toBeCloseTo(onto[n]?.[1] as number, 2);
        const [u, v] = by.from([x, y]);
        expect(u).toBeCloseTo(point[0] as number, 4);
        expect(v).toBeCloseTo(point[1] as number, 4);
      });
    }
  });
  it("is as it came where nothing is turned", () => {
    expect(turned({ on: false, pitch_deg: 9 } as Upright, { width: 30, height: 20 })).toBeUndefined();
    expect(turned({ on: true } as Upright, { width: 30, height: 20 })).toBeUndefined();
  });
  it("leaves out of sight what is cut off", () => {
    const photo = { width: 3000, height: 2000 };
    const by = turned({ on: true, pitch_deg: 12 } as Upright, photo);
    const area = (left: number, top: number): KeepArea => ({
      kind: "hand",
      left,
      top,
      width: 0.02,
      height: 0.02,
    });
    if (!by) throw new Error("nothing is turned");
    expect(areaThrough(area(0, 0), photo, by.to)).toBeUndefined();
    const seen = areaThrough(area(0.5, 0.5), photo, by.to);
    expect(seen?.kind).toBe("hand");
    expect(seen?.left).toBeCloseTo(0.5, 2);
  });
});
