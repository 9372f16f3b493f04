import type { Text } from "../api/client";
import { useChange } from "../editing/changes";
import type { View } from "../editing/view";
import type { Run } from "./runs";

export interface Words {
  text: string;
  runs: readonly Run[];
  /** Written in this edition, not the template's. */
  own: boolean;
}

/** What stands in a box of words: written in this edition, or else the template's, whose samples orders leave out. */
export function wordsOf(state: View, text: Text): Words {
  const written = state.job.making ? undefined : state.filling.texts?.[text.id];
  if (written !== undefined) return { text: written, runs: state.filling.runs?.[text.id] ?? [], own: true };
  const left = state.job.without_samples && text.sample !== false && !text.content_locked;
  return { text: left ? "" : text.text, runs: left ? [] : (text.runs ?? []), own: false };
}

/** What stands in a box of words as it is printed: with its fields filled in, as the server did last. */
export function printedWords(state: View, text: Text): string {
  const { text: written } = wordsOf(state, text);
  return written.includes("{") ? (state.words[text.id] ?? written) : written;
}

/** The words of a box and how they are kept: in the template when one is made, in the edition of an order otherwise. */
export function useWords(state: View) {
  const { edit } = useChange(state);
  const keep = (text: Text, words: { text: string; runs: readonly Run[] } | null, gesture?: string) =>
    edit(
      (state.job.making
        ? { op: "set_fields", layers: [text.id], fields: { text: words?.text ?? "", runs: words?.runs ?? [] }, expect: {} }
        : { op: "write", layer: text.id, text: words?.text ?? null, runs: [...(words?.runs ?? [])] }),
      { gesture },
    ); // biome-ignore format: two edits
  return { wordsOf: (text: Text) => wordsOf(state, text), keep };
}
