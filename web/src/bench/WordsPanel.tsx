import { Button } from "@mantine/core";
import { useRef, useState } from "react";
import type { Text } from "../api/client";
import { useCard } from "../api/queries";
import { useChange } from "../editing/changes";
import { useBench } from "../editing/store";
import type { View } from "../editing/view";
import { FieldsDialog } from "../lettering/FieldsDialog";
import { familyOf } from "../lettering/families";
import { fieldsIn } from "../lettering/fields";
import { LetteringPart } from "../lettering/LetteringPart";
import { asStyled } from "../lettering/StylePart";
import { useWords } from "../lettering/useWords";
import { WordsField } from "../lettering/WordsField";
import { t } from "../words";
import { FoundHere } from "./Findings";
import css from "./side.module.css";

/** The card of a job that began before there was one. */
const BARE = { name: "", address: "", web: "", phone: "", mail: "", main: "#2f5d6b", second: "#b4532a", logo: null, traced: "" }; // biome-ignore format: a list

/** The words of a text layer. What is typed is stored a moment later; one visit is one step of undo. */
export function WordsPanel({ state, text }: { state: View; text: Text }) {
  const { edit } = useChange(state);
  const { wordsOf, keep } = useWords(state);
  const words = wordsOf(text);
  const gesture = useRef(`words-${crypto.randomUUID()}`);
  const [saying, setSaying] = useState(false);
  const findings = state.findings.filter((finding) => finding.layer === text.id);
  const card = useCard();
  const fields = fieldsIn(words.text);
  const differs = card.data && JSON.stringify(card.data) !== JSON.stringify(state.job.studio ?? BARE);
  const box = asStyled(state, text);
  return (
    <section className={css.panel} aria-label={t("Words of {name}", { name: text.name || t("this box") })}>
      <h3>
        {text.name || t("Words")}{" "}
        <small className="num">
          {familyOf(box.font ?? "Lato")},{" "}
          {box.fit_pt ? t("to {size} pt", { size: box.fit_pt[1] }) : t("{size} pt", { size: box.size_pt })}
        </small>
      </h3>
      <WordsField
        state={state}
        id={`words-${text.id}`}
        box={box}
        words={words}
        placeholder={text.sample !== false ? t("for example: {text}", { text: text.text }) : undefined}
        onKeep={(said) => keep(text, said, gesture.current)}
        onFocus={() => {
          gesture.current = `words-${crypto.randomUUID()}`;
        }}
      />
      <div className={css.tools}>
        {text.sample !== false && !words.own && (
          <Button variant="default" onClick={() => keep(text, { text: text.text, runs: text.runs ?? [] })}>
            {state.job.without_samples ? t("Use template text") : t("Save text")}
          </Button>
        )}
        {words.own && (
          <Button variant="subtle" onClick={() => keep(text, null)}>
            {state.job.without_samples && text.sample !== false
              ? t("Leave empty")
              : t("Reset to template text")}
          </Button>
        )}
        <Button variant="default" onClick={() => setSaying(true)}>
          {t("Field values…")}
        </Button>
        {!text.content_locked && !text.place_locked && (
          <Button
            variant="subtle"
            color="gray.9"
            onClick={() => {
              edit({ op: "remove_layers", layers: [text.id] });
              useBench.getState().set({ selected: undefined, writing: undefined });
            }}
          >
            {t("Delete text")}
          </Button>
        )}
      </div>
      <details className={css.more}>
        <summary>{t("Font, size, colour")}</summary>
        <LetteringPart state={state} text={text} />
      </details>
      {fields.some((name) => name.startsWith("studio.")) && differs && (
        <Button
          size="compact-xs"
          variant="default"
          onClick={() => edit({ op: "take_card", card: card.data })}
        >
          {t("Update studio card")}
        </Button>
      )}
      <FoundHere findings={findings} />
      {saying && <FieldsDialog state={state} onClose={() => setSaying(false)} />}
    </section>
  );
}
