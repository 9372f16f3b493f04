/** A message, with its plural if it has one. */
export type Message = [message: string, plural: string | null];
export interface Gathered {
  messages: Message[];
  strays: string[];
  missing: string[];
}
export function gather(text: string, name: string): Gathered;
export function gatherAll(): Record<string, Gathered>;
export function listMessages(): string;
