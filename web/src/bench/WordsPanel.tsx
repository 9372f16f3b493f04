import { Button, Textarea } from "@mantine/core";
import { useEffect, useRef, useState } from "react";
import type { JobState, Text } from "../api/client";
import { useChange } from "../api/queries";
import { FoundHere } from "./Findings";
import css from "./side.module.css";

/** The words of a text layer. What is typed is stored a moment later; one visit is one step of undo. */
export function WordsPanel({ state, text }: { state: JobState; text: Text }) {
  const { edit } = useChange(state.id);
  const stored = state.job.edition?.texts?.[text.id] ?? text.text;
  const [typed, setTyped] = useState<string>();
  const gesture = useRef(`words-${crypto.randomUUID()}`);
  const mutate = edit.mutate;
  useEffect(() => {
    if (typed === undefined || typed === stored) return;
    const timer = setTimeout(
      () => mutate({ edit: { op: "write", layer: text.id, text: typed }, gesture: gesture.current }),
      300,
    );
    return () => clearTimeout(timer);
  }, [typed, stored, text.id, mutate]);
  const latest = useRef({ typed, stored });
  latest.current = { typed, stored };
  useEffect(
    () => () => {
      const { typed, stored } = latest.current;
      if (typed !== undefined && typed !== stored)
        mutate({ edit: { op: "write", layer: text.id, text: typed }, gesture: gesture.current });
    },
    [mutate, text.id],
  );
  // Undo, or another window, changed the words: show what is stored.
  const seen = useRef(stored);
  useEffect(() => {
    if (seen.current !== stored) {
      seen.current = stored;
      setTyped((now) =>
        now === undefined || document.activeElement?.id === `words-${text.id}` ? now : undefined,
      );
    }
  }, [stored, text.id]);
  const findings = state.findings.filter((finding) => finding.layer === text.id);
  const own = state.job.edition?.texts?.[text.id] !== undefined;
  return (
    <section className={css.panel} aria-label={`Words of ${text.name || text.id}`}>
      <h3>
        {text.name || text.id}{" "}
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
        value={typed ?? stored}
        onChange={(event) => setTyped(event.currentTarget.value)}
        onFocus={() => {
          gesture.current = `words-${crypto.randomUUID()}`;
        }}
      />
      <div className={css.tools}>
        {text.sample && !own && (
          <Button
            variant="default"
            onClick={() => mutate({ edit: { op: "write", layer: text.id, text: text.text } })}
          >
            Keep these words
          </Button>
        )}
        {own && (
          <Button
            variant="subtle"
            onClick={() => {
              setTyped(undefined);
              mutate({ edit: { op: "write", layer: text.id, text: null } });
            }}
          >
            Back to the template's words
          </Button>
        )}
      </div>
      <FoundHere findings={findings} />
    </section>
  );
}
