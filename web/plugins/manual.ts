/** The manual: docs/using.md as a page that is served with the interface, and its sections for the finder and for each screen. */
import { readFileSync } from "node:fs";
import { join } from "node:path";
import { Marked } from "marked";
import type { Plugin } from "vite";

const ROOT = join(import.meta.dirname, "..", "..");
const SOURCE = join(ROOT, "docs", "using.md");
const MODULE = "virtual:manual";

export const anchorOf = (title: string) =>
  title
    .toLowerCase()
    .replace(/[^\p{L}\p{N}]+/gu, "-")
    .replace(/^-|-$/g, "");

export const sectionsOf = (source: string) =>
  [...source.matchAll(/^## (.+)$/gm)].map(([, title = ""]) => ({ title, anchor: anchorOf(title) }));

export const STYLE = `
  :root { color-scheme: light; font: 15px/1.55 Manrope, system-ui, sans-serif; color: #1c1c1c; background: #f7f7f7 }
  body { display: grid; grid-template-columns: 230px minmax(0, 74ch); gap: 0 40px; margin: 0 auto; max-width: 1080px; padding: 0 24px 80px }
  nav { position: sticky; top: 0; align-self: start; max-height: 100vh; overflow-y: auto; padding: 24px 0; box-sizing: border-box }
  nav a { display: block; padding: 3px 0; color: inherit; text-decoration: none }
  nav a:hover { text-decoration: underline }
  h1 { font-size: 24px } h2 { font-size: 19px; margin: 2em 0 .4em; scroll-margin-top: 12px }
  table { border-collapse: collapse; width: 100% } td, th { border-bottom: 1px solid #dedede; padding: 4px 12px 4px 0; text-align: left; vertical-align: top }
  a { color: #a8125a } code { font-size: .92em } footer { color: #707070; margin-top: 3em }
  @media (max-width: 760px) { body { display: block } nav { position: static; max-height: none } }
`;

export function pageOf(source: string, version: string): string {
  const marked = new Marked({
    renderer: {
      heading({ tokens, depth, text }) {
        const inner = this.parser.parseInline(tokens);
        return depth === 2
          ? `<h2 id="${anchorOf(text)}">${inner}</h2>\n`
          : `<h${depth}>${inner}</h${depth}>\n`;
      },
    },
  });
  const list = sectionsOf(source).map(({ title, anchor }) => `<a href="#${anchor}">${title}</a>`);
  return `<!doctype html><html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width">
<title>Manual, Sutaru</title><style>${STYLE}</style></head>
<body><nav aria-label="Contents"><a href="/"><strong>Sutaru</strong></a>${list.join("")}</nav>
<main>${marked.parse(source)}<footer>Sutaru ${version}</footer></main></body></html>\n`;
}

const readVersion = () =>
  /^version = "(.+)"$/m.exec(readFileSync(join(ROOT, "pyproject.toml"), "utf8"))?.[1] ?? "";
const read = () => readFileSync(SOURCE, "utf8");

export const manual: Plugin = {
  name: "manual",
  resolveId: (id) => (id === MODULE ? `\0${MODULE}` : undefined),
  load(id) {
    if (id !== `\0${MODULE}`) return undefined;
    this.addWatchFile(SOURCE);
    return `export const sections = ${JSON.stringify(sectionsOf(read()))};\nexport const version = ${JSON.stringify(readVersion())};`;
  },
  generateBundle() {
    this.emitFile({ type: "asset", fileName: "manual.html", source: pageOf(read(), readVersion()) });
  },
};
