/** A message file (`sutaru/words/de.po`) as the interface has it: its own messages alone, plural forms under the names of Intl. */
import { po } from "gettext-parser";
import type { Plugin } from "vite";

/** The plural forms of a file stand in the order in which Unicode's rules name them: zero, one, two, few, many, other. */
const ORDER = ["zero", "one", "two", "few", "many", "other"];

export function readMessages(text: string): Record<string, string> {
  const { headers, translations } = po.parse(text);
  const language = headers.Language ?? "en";
  const forms = ORDER.filter((form) =>
    (new Intl.PluralRules(language).resolvedOptions().pluralCategories as string[]).includes(form),
  );
  const messages: Record<string, string> = {};
  for (const { msgid, msgid_plural, msgstr, comments } of Object.values(translations[""] ?? {})) {
    if (!msgid || !comments?.reference?.includes("web/")) continue;
    if (!msgid_plural) messages[msgid] = msgstr[0] || msgid;
    else
      for (const [index, form] of forms.entries())
        messages[`${msgid_plural}_${form}`] = msgstr[Math.min(index, msgstr.length - 1)] || msgid_plural;
  }
  return messages;
}

export const messages: Plugin = {
  name: "messages",
  transform(text, id) {
    if (id.endsWith(".po"))
      return { code: `export default ${JSON.stringify(readMessages(text))}`, map: null };
  },
};
