import { t } from "../words";

/** Status: shape first, colour second. A disc is ready, a triangle is to be checked by a person, a square blocks export; half a
 * disc is still being checked by the machine. */
const SHAPES = {
  order: <circle cx="6" cy="6" r="4.5" fill="var(--order)" />,
  look: <path d="M6 0.8L11.6 10.8H0.4Z" fill="var(--look)" />,
  stop: <rect x="1.2" y="1.2" width="9.6" height="9.6" fill="var(--stop)" />,
  checking: (
    <>
      <circle cx="6" cy="6" r="4" fill="none" stroke="var(--ink-soft)" strokeWidth="1.5" />
      <path d="M6 2v8a4 4 0 0 0 0-8Z" fill="var(--ink-soft)" />
    </>
  ),
  note: <circle cx="6" cy="6" r="4" fill="none" stroke="var(--ink-soft)" strokeWidth="1.5" />,
};
const NAMES = { order: "ready", look: "look", stop: "stop", checking: t("being checked"), note: "note" };

export function Mark({ status, size = 12 }: { status: keyof typeof SHAPES; size?: number }) {
  return (
    <svg width={size} height={size} viewBox="0 0 12 12" role="img" aria-label={NAMES[status]}>
      {SHAPES[status]}
    </svg>
  );
}
