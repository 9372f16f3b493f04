/**
 * The messages of the interface: what stands in t(), in tn() and in the tables of keys; and strays, which are shown but stand in none.
 * `node plugins/gather.mjs` writes them into messages.txt (npm run messages).
 */
import { readdirSync, readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { argv } from "node:process";
import { fileURLToPath } from "node:url";
import ts from "typescript";

const SOURCE = join(import.meta.dirname, "..", "src");
/** Which arguments of which functions are messages. */
const ARGUMENTS = { t: [0], tn: [[1, 2]], key: [2, 3, 6] };
/** Attributes and properties that are read by people. */
const SHOWN = new Set([
  "label",
  "aria-label",
  "title",
  "alt",
  "placeholder",
  "description",
  "hint",
  "heading",
  "aria-valuetext",
]);
/** Names of key caps and formats, units and the like, which are the same in each language. */
const SAME =
  /^(Sutaru|manifest\.json|sha256|ΔE|\{\w+\}|:? *× *px|Esc|[A-Z]{2,5}|sRGB|ppi|px|mm|in|pt|EV|(Alt|Ctrl)( .)?|.?\d.*)$/;

const { SyntaxKind } = ts;
const isText = (node) => ts.isStringLiteral(node) || ts.isNoSubstitutionTemplateLiteral(node);
const hasWords = (text) => /\p{L}{2}/u.test(text) && !SAME.test(text.trim());

/** The placeholders of a call's messages that its values do not give: what is told as it is named, not handed on whole. */
function lacking(call, texts, given) {
  if (given && (!ts.isObjectLiteralExpression(given) || given.properties.some(ts.isSpreadAssignment)))
    return [];
  const names = (given?.properties ?? []).map(({ name }) => name.getText());
  return texts
    .flatMap((text) => [...text.matchAll(/\{(\w+)\}/g)].map(([, name]) => name))
    .filter((name) => !names.includes(name) && !(call === "tn" && name === "n"));
}

/** What is shown of an expression as it stands: its literals, through what chooses between them. */
function* literals(node) {
  if (isText(node)) yield node.text;
  else if (ts.isTemplateExpression(node)) {
    yield [node.head.text, ...node.templateSpans.map((span) => span.literal.text)].join(" ");
    for (const span of node.templateSpans) yield* literals(span.expression);
  } else if (ts.isConditionalExpression(node)) {
    yield* literals(node.whenTrue);
    yield* literals(node.whenFalse);
  } else if (ts.isBinaryExpression(node)) {
    if (node.operatorToken.kind === SyntaxKind.AmpersandAmpersandToken) yield* literals(node.right);
    else if (
      [SyntaxKind.BarBarToken, SyntaxKind.QuestionQuestionToken, SyntaxKind.PlusToken].includes(
        node.operatorToken.kind,
      )
    ) {
      yield* literals(node.left);
      yield* literals(node.right);
    }
  } else if (ts.isParenthesizedExpression(node)) yield* literals(node.expression);
}

/** The messages of one file, each with its plural if it has one, its strays, and the values that are not given. */
export function gather(text, name) {
  const messages = [];
  const missing = [];
  const strays = [];
  const kind = name.endsWith("x") ? ts.ScriptKind.TSX : ts.ScriptKind.TS;
  const file = ts.createSourceFile(name, text, ts.ScriptTarget.Latest, true, kind);
  const stray = (found) => strays.push(...[...found].filter(hasWords));
  const visit = (node) => {
    if (ts.isCallExpression(node) && Object.hasOwn(ARGUMENTS, node.expression.getText(file))) {
      const call = node.expression.getText(file);
      const texts = node.arguments.filter(isText).map(({ text }) => text);
      if (call !== "key") missing.push(...lacking(call, texts, node.arguments[call === "t" ? 1 : 3]));
      for (const which of ARGUMENTS[call]) {
        const [one, many] = [which].flat().map((index) => node.arguments[index]);
        if (one && isText(one) && hasWords(one.text))
          messages.push([one.text, many && isText(many) ? many.text : null]);
      }
    } else if (ts.isJsxText(node)) stray([node.text]);
    else if (ts.isJsxExpression(node) && node.expression && !ts.isJsxAttribute(node.parent))
      stray(literals(node.expression));
    else if (ts.isJsxAttribute(node) && SHOWN.has(node.name.getText(file)) && node.initializer)
      stray(literals(ts.isJsxExpression(node.initializer) ? node.initializer.expression : node.initializer));
    else if (ts.isPropertyAssignment(node) && SHOWN.has(node.name.getText(file).replaceAll('"', "")))
      stray(literals(node.initializer));
    ts.forEachChild(node, visit);
  };
  visit(file);
  return { messages, strays, missing };
}

/** All files of the interface, by name. */
export function gatherAll() {
  const names = readdirSync(SOURCE, { recursive: true })
    .filter((name) => /\.tsx?$/.test(name) && !/\.(test|fixture)\.|\.d\.ts$/.test(name))
    .sort();
  return Object.fromEntries(
    names.map((name) => [name, gather(readFileSync(join(SOURCE, name), "utf8"), name)]),
  );
}

/** The messages file by file, each once, as they are read. */
export const listMessages = () =>
  Object.entries(gatherAll())
    .filter(([, { messages }]) => messages.length > 0)
    .map(([name, { messages }]) => {
      const lines = messages.map(
        ([message, plural]) => JSON.stringify(message) + (plural ? ` | ${JSON.stringify(plural)}` : ""),
      );
      return `${name}\n${[...new Set(lines)].map((line) => `  ${line}\n`).join("")}`;
    })
    .join("\n");

if (argv[1] === fileURLToPath(import.meta.url))
  writeFileSync(join(SOURCE, "..", "messages.txt"), listMessages());
