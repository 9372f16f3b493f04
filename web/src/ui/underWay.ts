import { pending } from "../api/pending";
import { complain } from "./complain";

/**
 * What asks the server before it becomes an edit. Until it has ended it counts as not stored: the browser asks before it leaves,
 * and the bench does not say "Saved". What goes wrong is said, and `failed` puts back what was shown meanwhile.
 */
export async function underWay<T>(work: () => Promise<T>, failed?: () => void): Promise<T | undefined> {
  const stored = pending();
  try {
    return await work();
  } catch (error) {
    failed?.();
    complain(error);
    return undefined;
  } finally {
    stored();
  }
}
