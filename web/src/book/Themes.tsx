import { themePicture } from "../api/client";
import { useThemes } from "../api/queries";
import { t } from "../words";
import css from "./book.module.css";

/** The themes, each by the front of a book in it. */
export function Themes({ value, onChange }: { value: string; onChange: (theme: string) => void }) {
  const themes = useThemes();
  return (
    <div role="radiogroup" aria-label={t("Theme")} className={css.cards}>
      {(themes.data ?? []).map((one) => (
        <label key={one.id} className={css.card} data-chosen={one.id === value || undefined}>
          <input
            type="radio"
            name="theme"
            value={one.id}
            checked={one.id === value}
            onChange={() => onChange(one.id)}
          />
          <img src={themePicture(one.id, 0, 400)} alt="" loading="lazy" />
          <span>{one.name}</span>
        </label>
      ))}
    </div>
  );
}

/** What a theme is for, and pages in it. */
export function ThemePages({ theme }: { theme: string }) {
  const themes = useThemes();
  const chosen = themes.data?.find((one) => one.id === theme);
  if (!chosen) return null;
  return (
    <section aria-label={t("Spreads in {name}", { name: chosen.name })}>
      <p className={css.note}>{chosen.note}</p>
      <div className={css.pages} key={chosen.id}>
        {[1, 2, 3].map((index) => (
          <img
            key={index}
            src={themePicture(chosen.id, index, 400)}
            alt={t("A spread in {name}", { name: chosen.name })}
          />
        ))}
      </div>
    </section>
  );
}
