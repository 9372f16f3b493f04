import type { ReactNode } from "react";
import css from "./answer.module.css";

/** What a dialog is answered by: buttons at its foot, in sight however much there is above them; ``said`` stands before them. */
export function Answer({ said, children }: { said?: ReactNode; children: ReactNode }) {
  return (
    <div className={css.answer}>
      {said}
      {children}
    </div>
  );
}
