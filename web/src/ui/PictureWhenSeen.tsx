import { useLayoutEffect, useRef, useState } from "react";

/**
 * A picture of a long list: asked for once it comes into view, after all that a person waits for, and no more once it is
 * gone. The server paints such pictures, and a browser asks for only a few things at a time.
 */
export function PictureWhenSeen(props: { src: string; alt: string; width?: number; height?: number }) {
  const picture = useRef<HTMLImageElement>(null);
  const [seen, setSeen] = useState(false);
  useLayoutEffect(() => {
    const image = picture.current;
    if (!image) return;
    const watch = new IntersectionObserver(
      (entries) => {
        if (!entries.some((entry) => entry.isIntersecting)) return;
        setSeen(true);
        watch.disconnect();
      },
      { rootMargin: "150px" },
    );
    watch.observe(image);
    return () => {
      watch.disconnect();
      // What is still on its way is let go: while the picture is in the page, as Chromium keeps for ever whatever
      // picture is given another source once it has left, and all that it was part of.
      image.removeAttribute("src");
    };
  }, []);
  // biome-ignore lint/a11y/useAltText: it is among the others
  return <img ref={picture} fetchPriority="low" {...props} src={seen ? props.src : undefined} />;
}
