import { Button, Textarea } from "@mantine/core";
import { useRef } from "react";
import type { Text } from "../api/client";
import { useCard } from "../api/queries";
import { type Said, useChange } from "../editing/jobs";
import { useKept } from "../editing/kept";
import type { View } from "../editing/view";
import { FoundHere } from "./Findings";
import css from "./side.module.css";

/** The card of a job that began before there was one. */
const BARE = { name: "", address: "", web: "", phone: "", mail: "", main: "#2f5d6b", second: "#b4532a", logo: null, traced: "" }; // biome-ignore format: a list

/** The words of a text layer. What is typed is stored a moment later; one visit is one step of undo. */
export function WordsPanel({ state, text }: { state: View; text: Text }) {
  const { edit } = useChange(state);
  const stored = state.filling.texts?.[text.id] ?? text.text;
  const gesture = useRef(`words-${crypto.randomUUID()}`);
  const write = (words: string | null, gesture?: string) =>
    edit({ op: "write", layer: text.id, text: words }, { gesture });
  const { shown, change, drop } = useKept(stored, (words) => write(words, gesture.current), 300);
  const findings = state.findings.filter((finding) => finding.layer === text.id);
  const card = useCard();
  const named = stored.includes("{studio.");
  const differs = card.data && JSON.stringify(card.data) !== JSON.stringify(state.job.studio ?? BARE);
  const own = state.filling.texts?.[text.id] !== undefined;
  return (
    <section className={css.panel} aria-label={`Words of ${text.name || "this box"}`}>
      <h3>
        {text.name || "Words"}{" "}
        <small className="num">
          {text.font}, {text.size_pt} pt
        </small>
      </h3>
      <Textarea
        id={`words-${text.id}`}
        aria-label="Words"
        autosize
        minRows={2}
        maxRows={6}
        maxLength={5000}
        value={shown}
        onChange={(event) => change(event.currentTarget.value)}
        onFocus={() => {
          gesture.current = `words-${crypto.randomUUID()}`;
        }}
      />
      <div className={css.tools}>
        {text.sample && !own && (
          <Button variant="default" onClick={() => write(text.text)}>
            Keep these words
          </Button>
        )}
        {own && (
          <Button
            variant="subtle"
            onClick={() => {
              drop();
              write(null);
            }}
          >
            Back to the template's words
          </Button>
        )}
      </div>
      {named && differs && (
        <Button
          size="compact-xs"
          variant="default"
          onClick={() => edit({ op: "take_card", card: card.data } as Said)}
        >
          Take the studio card as it is now
        </Button>
      )}
      <FoundHere findings={findings} />
    </section>
  );
}
