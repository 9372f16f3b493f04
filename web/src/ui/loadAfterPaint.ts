const RETRY_MS = 2000;

/** Loads a part of the interface once the browser has drawn what it has, and so many ms later; again and again where the server is away. */
export const loadAfterPaint =
  <T>(load: () => Promise<T>, later = 0) =>
  () =>
    new Promise<T>((resolve) => {
      const attempt = (after: number) =>
        setTimeout(() => load().then(resolve, () => attempt(RETRY_MS)), after);
      requestAnimationFrame(() => attempt(later));
    });
