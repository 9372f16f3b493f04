/** The description of the API (openapi.json) as one page that is served with the interface: no script, nothing from elsewhere. */
import { readFileSync } from "node:fs";
import { join } from "node:path";
import { Marked } from "marked";
import type { Plugin } from "vite";
import { STYLE } from "./manual.ts";

interface Schema {
  $ref?: string;
  type?: string | string[];
  title?: string;
  description?: string;
  enum?: unknown[];
  const?: unknown;
  items?: Schema;
  anyOf?: Schema[];
  oneOf?: Schema[];
  properties?: Record<string, Schema>;
  required?: string[];
  default?: unknown;
  examples?: unknown[];
  format?: string;
  [limit: string]: unknown;
}
interface Body {
  description?: string;
  content?: Record<string, { schema?: Schema }>;
}
interface Operation {
  tags?: string[];
  description?: string;
  parameters?: { name: string; in: string; required?: boolean; description?: string; schema?: Schema }[];
  requestBody?: Body;
  responses: Record<string, Body>;
}
interface Description {
  info: { title: string; version: string; description: string };
  paths: Record<string, Record<string, Operation>>;
  components: { schemas: Record<string, Schema> };
}

const LIMITS = [
  "minimum",
  "maximum",
  "exclusiveMinimum",
  "minLength",
  "maxLength",
  "minItems",
  "maxItems",
  "pattern",
];
const MARKS: Record<string, string> = { "&": "&amp;", "<": "&lt;", ">": "&gt;", '"': "&quot;" };
const safe = (text: unknown) => String(text).replace(/[&<>"]/g, (mark) => MARKS[mark] ?? mark);
const marked = new Marked();
const prose = (text = "") => marked.parseInline(safe(text).replaceAll("``", "`")) as string;

/** What a value is, in a few words; a model is linked. */
function typeOf(schema: Schema = {}): string {
  if (schema.$ref) {
    const name = schema.$ref.split("/").pop() ?? "";
    return `<a href="#model-${safe(name)}">${safe(name)}</a>`;
  }
  const several = schema.anyOf ?? schema.oneOf;
  if (several) return several.map(typeOf).join(" or ");
  if (schema.enum) return schema.enum.map((value) => `<code>${safe(value)}</code>`).join(" ");
  if (schema.const !== undefined) return `<code>${safe(schema.const)}</code>`;
  if (schema.items) return `list of ${typeOf(schema.items)}`;
  const kind = [schema.type ?? "any"].flat().join(" or ");
  return schema.format ? `${kind} (${safe(schema.format)})` : kind;
}

function limitsOf(schema: Schema = {}): string {
  const limits = LIMITS.filter((limit) => schema[limit] !== undefined).map(
    (limit) => `${limit} ${safe(schema[limit])}`,
  );
  if (schema.default !== undefined && schema.default !== null && schema.default !== "")
    limits.push(`default ${safe(JSON.stringify(schema.default))}`);
  if (schema.examples?.length) limits.push(`such as ${safe(JSON.stringify(schema.examples[0]))}`);
  return limits.length ? ` <small>${limits.join(", ")}</small>` : "";
}

const rowOf = (
  name: string,
  schema: Schema | undefined,
  about: string | undefined,
  needed: boolean,
  where = "",
) =>
  `<tr><td><code>${safe(name)}</code>${needed ? " <small>required</small>" : ""}${where && ` <small>${where}</small>`}</td>` +
  `<td>${typeOf(schema)}${limitsOf(schema)}</td><td>${prose(about)}</td></tr>`;

function bodyOf(body: Body | undefined, title: string): string {
  if (!body?.content) return "";
  const kinds = Object.entries(body.content).map(
    ([kind, { schema }]) => `${typeOf(schema)} <small>${safe(kind)}</small>`,
  );
  return `<p><strong>${title}</strong> ${prose(body.description)} ${kinds.join(", ")}</p>`;
}

function operationOf(method: string, path: string, operation: Operation): string {
  const rows = (operation.parameters ?? []).map((one) =>
    rowOf(one.name, one.schema, one.description ?? one.schema?.description, one.required ?? false, one.in),
  );
  const answers = Object.entries(operation.responses).map(([status, answer]) =>
    status.startsWith("2")
      ? bodyOf({ ...answer, description: status }, "Answers")
      : `<li><code>${status}</code> ${prose(answer.description)}</li>`,
  );
  const good = answers.filter((answer) => !answer.startsWith("<li>"));
  const refusals = answers.filter((answer) => answer.startsWith("<li>"));
  return `<h3 id="${safe(`${method}-${path}`)}"><code>${method.toUpperCase()} ${safe(path)}</code></h3>
<p>${prose(operation.description)}</p>${rows.length ? `<table>${rows.join("")}</table>` : ""}
${bodyOf(operation.requestBody, "Takes")}${good.join("")}
${refusals.length ? `<details><summary>Refusals</summary><ul>${refusals.join("")}</ul></details>` : ""}`;
}

function modelOf(name: string, schema: Schema): string {
  const rows = Object.entries(schema.properties ?? {}).map(([field, value]) =>
    rowOf(field, value, value.description, schema.required?.includes(field) ?? false),
  );
  const table = rows.length ? `<table>${rows.join("")}</table>` : `<p>${typeOf(schema)}</p>`;
  return `<h3 id="model-${safe(name)}">${safe(name)}</h3><p>${prose(schema.description)}</p>${table}`;
}

/** The page of a description. */
export function apiPageOf(description: Description): string {
  const groups = new Map<string, string[]>();
  for (const [path, methods] of Object.entries(description.paths))
    for (const [method, operation] of Object.entries(methods)) {
      const group = operation.tags?.[0] ?? "other";
      groups.set(group, [...(groups.get(group) ?? []), operationOf(method, path, operation)]);
    }
  const names = [...groups.keys()].sort();
  const models = Object.entries(description.components.schemas).map(([name, schema]) =>
    modelOf(name, schema),
  );
  const list = [...names, "models"].map((name) => `<a href="#${safe(name)}">${safe(name)}</a>`);
  const parts = names.map((name) => `<h2 id="${safe(name)}">${safe(name)}</h2>${groups.get(name)?.join("")}`);
  return `<!doctype html><html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width">
<title>API, Sutaru</title><style>${STYLE} h3 { margin: 2em 0 .3em; font-size: 15px; scroll-margin-top: 12px } small { color: #707070 }</style></head>
<body><nav aria-label="Contents"><a href="/"><strong>Sutaru</strong></a>${list.join("")}</nav>
<main><h1>API</h1><p>${prose(description.info.description)}</p>
<p>Scripts send a token, <code>Authorization: Bearer TOKEN</code>, where a passphrase is asked for; <code>sutaru token add NAME</code>
makes one. The description itself: <a href="/openapi.json">openapi.json</a>.</p>
${parts.join("\n")}<h2 id="models">models</h2>${models.join("\n")}<footer>Sutaru ${safe(description.info.version)}</footer></main></body></html>\n`;
}

export const apiPage: Plugin = {
  name: "api-page",
  generateBundle() {
    const source = join(import.meta.dirname, "..", "openapi.json");
    this.emitFile({
      type: "asset",
      fileName: "api.html",
      source: apiPageOf(JSON.parse(readFileSync(source, "utf8"))),
    });
  },
};
