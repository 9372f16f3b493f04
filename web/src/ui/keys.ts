/** Keys of a screen are a table. What they do and the help are both made from it, so that what is listed is what works. */

export interface Key<Scope extends string = string, Does extends string = string> {
  /** Where it works, such as in a walk. */
  scope: Scope;
  /** As the browser names them; letters in lower case. */
  keys: readonly string[];
  /** What is held with it; Ctrl is the command key as well. */
  held?: "ctrl" | "alt";
  shown: string;
  what: string;
  /** What it is called in a menu; nothing for what only keys do. */
  name?: string;
  /** The command that it is. */
  does: Does;
}

export const key = <const Scope extends string, const Does extends string>(
  scope: Scope,
  keys: string,
  shown: string,
  what: string,
  does: Does,
  held?: Key["held"] | "",
  name?: string,
): Key<Scope, Does> => ({
  scope,
  keys: keys.split(" ").map((name) => (name === "Space" ? " " : name)),
  shown,
  what,
  does,
  held: held || undefined,
  name,
});

export interface Pressed {
  key: string;
  ctrlKey: boolean;
  metaKey: boolean;
  altKey: boolean;
  shiftKey: boolean;
  target: EventTarget | null;
}

/** The first entry of a table that a key press means, of the scopes that are open, given first to last. */
export function meant<Entry extends Key>(
  event: Pressed,
  table: readonly Entry[],
  scopes: readonly Entry["scope"][],
): Entry | undefined {
  const name = event.key.length === 1 ? event.key.toLowerCase() : event.key;
  const held = event.ctrlKey || event.metaKey ? "ctrl" : event.altKey ? "alt" : undefined;
  for (const scope of scopes) {
    const command = table.find(
      (entry) => entry.scope === scope && entry.held === held && entry.keys.includes(name),
    );
    if (command) return command;
  }
  return undefined;
}

/** What the commands of a table do. One that answers `false` meant nothing just now: the key is left to the browser. */
export type Commands<Entry extends Key> = Record<Entry["does"], (event: Pressed, entry: Entry) => unknown>;

/** Does what a key means; whether it meant anything. */
export function obey<Entry extends Key>(
  event: Pressed & { preventDefault: () => void },
  entry: Entry | undefined,
  commands: Commands<Entry>,
): boolean {
  if (!entry || commands[entry.does as Entry["does"]](event, entry) === false) return false;
  event.preventDefault();
  return true;
}

const TYPED = new Set([
  "text",
  "number",
  "search",
  "email",
  "password",
  "tel",
  "url",
  "color",
  "date",
  "month",
]);

/** Whether keys are being typed into something, or steer a menu or a dialogue: they are none of the bench's then. */
export const isTyping = (target: EventTarget | null): boolean =>
  target instanceof Element &&
  (isField(target) || !!target.closest("[role=dialog], [role=menu], [role=listbox]"));

/** Whether keys are being typed into something. */
export function isField(target: Element): boolean {
  if (target.closest("textarea, select, [contenteditable=true]")) return true;
  const input = target.closest("input");
  // A list to choose from is a field that nothing is typed into: only while it is open are keys its own.
  if (input?.readOnly) return input.getAttribute("aria-expanded") === "true";
  return !!input && TYPED.has(input.type);
}

/** Whether a key belongs to what has the focus: a slider's or a set of choices' arrows, a button's Enter. */
export function isTheControls(target: EventTarget | null, name: string): boolean {
  if (!(target instanceof Element)) return false;
  if (name.startsWith("Arrow") || name === "Home" || name === "End")
    return !!target.closest("[role=slider], input[type=radio], [role=tab], [aria-haspopup=listbox]");
  if (name === "Enter") return !!target.closest("button, a, summary, [role=button], [aria-haspopup=listbox]");
  return name === " ";
}
