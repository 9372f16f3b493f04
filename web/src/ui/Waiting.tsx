import { Link } from "wouter";
import { t } from "../words";

/** What stands for a screen until there is something to show: what it waits for, or why there is nothing. */
export function Waiting({ for: { error, lost } }: { for: { error: string; lost: string } }) {
  return (
    <main className="opening" aria-busy={!error}>
      {error ? (
        <div>
          <p role="alert">{error}</p>
          <Link href="/">{t("To the shelf")}</Link>
        </div>
      ) : (
        <p role="status">
          {lost ? t("{lost} This screen opens as soon as it does.", { lost }) : t("Opening…")}
        </p>
      )}
    </main>
  );
}
