import { Button, PasswordInput } from "@mantine/core";
import { type ReactNode, useEffect, useState } from "react";
import { answer, whenLocked } from "../api/client";
import { tell } from "../api/news";
import { t } from "../words";
import css from "./door.module.css";

/** Lets everybody through until the server wants a passphrase; then asks for it, and what waited goes on. */
export function Door({ children }: { children: ReactNode }) {
  const [locked, setLocked] = useState(false);
  const [word, setWord] = useState("");
  const [said, setSaid] = useState("");
  const [busy, setBusy] = useState(false);
  useEffect(() => whenLocked(() => setLocked(true)), []);
  if (!locked) return children;
  const open = async () => {
    setBusy(true);
    try {
      await answer(
        fetch("/api/session", {
          method: "POST",
          headers: { "Content-Type": "application/json" },
          body: JSON.stringify({ passphrase: word }),
        }).then(async (response) =>
          response.ok
            ? { data: {}, response }
            : { error: await response.json(), response: new Response(null, { status: 403 }) },
        ),
      );
      setLocked(false);
      setSaid("");
      tell({ kind: "missed", id: "" });
    } catch (error) {
      setSaid((error as Error).message);
    } finally {
      setBusy(false);
      setWord("");
    }
  };
  return (
    <main className={css.door}>
      <form
        onSubmit={(event) => {
          event.preventDefault();
          open();
        }}
      >
        <h1>{t("Sutaru")}</h1>
        <PasswordInput
          label={t("Passphrase of this studio")}
          data-autofocus
          autoFocus
          value={word}
          error={said}
          onChange={(event) => setWord(event.currentTarget.value)}
        />
        <Button type="submit" mt={12} fullWidth loading={busy} disabled={!word}>
          {t("Open")}
        </Button>
      </form>
    </main>
  );
}
