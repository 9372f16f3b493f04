/** Loads something once the browser has drawn what it has, and so many ms later. */
export const afterPaint =
  <T>(load: () => Promise<T>, later = 0) =>
  () =>
    new Promise<T>((resolve, reject) => {
      requestAnimationFrame(() => setTimeout(() => load().then(resolve, reject), later));
    });
