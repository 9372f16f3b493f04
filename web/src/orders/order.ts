/** What an order is made of, before it is one. */
import type { NewOrder } from "../api/client";

export type To = Required<NewOrder["to"]>;

/** What was written, which edition it is of, and how many are to be printed. */
export type Written = { file: string; copies: number; edition?: string };
