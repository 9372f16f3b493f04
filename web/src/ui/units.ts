/** Lengths in the unit that a person chose for a job. Inside, everything is millimetres. */
import { createContext, useContext } from "react";
import { trimmed } from "./format";

export type Unit = "mm" | "cm" | "in";
export const UNITS: readonly Unit[] = ["mm", "cm", "in"];
const MM: Record<Unit, number> = { mm: 1, cm: 10, in: 25.4 };
const DIGITS: Record<Unit, number> = { mm: 1, cm: 2, in: 3 };

export const UnitContext = createContext<Unit>("mm");

export const mmOf = (value: number, unit: Unit) => value * MM[unit];
export const inUnit = (mm: number, unit: Unit) => mm / MM[unit];

/** A length as people read it: "12.5 mm", "1.25 in". */
export const length = (mm: number, unit: Unit, digits = DIGITS[unit]) =>
  `${trimmed(inUnit(mm, unit), digits)} ${unit}`;

/** The unit of the job in view, and what it needs. */
export function useUnit() {
  const unit = useContext(UnitContext);
  return {
    unit,
    digits: DIGITS[unit],
    length: (mm: number, digits?: number) => length(mm, unit, digits),
    inWords: (sentence: string) => inWords(sentence, unit),
  };
}

/** A sentence that speaks of millimetres, in another unit. */
export const inWords = (sentence: string, unit: Unit) =>
  unit === "mm" ? sentence : sentence.replace(/(\d+(?:\.\d+)?) mm\b/g, (_, mm) => length(Number(mm), unit));
