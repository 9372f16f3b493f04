import { readFileSync } from "node:fs";
import { expect, it } from "vitest";
import { ON_SHEET } from "./changes";

interface Schema {
  properties?: Record<string, { const?: string }>;
  required?: string[];
}

it("gives every edit that must name a sheet the one in view", () => {
  const { schemas } = JSON.parse(readFileSync("openapi.json", "utf-8")).components as {
    schemas: Record<string, Schema>;
  };
  const asked = Object.values(schemas).flatMap(({ properties, required }) =>
    properties?.op?.const && required?.includes("sheet") ? [properties.op.const] : [],
  );
  expect(asked.length).toBeGreaterThan(20);
  expect([...ON_SHEET].sort()).toEqual(asked.sort());
});
