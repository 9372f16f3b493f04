/** Tiles of a photo as they are seen: fetched as they come into view, the last ones shown until newer ones are here. */
import { useEffect, useRef, useState } from "react";
import { levelOf, type Seen, type Size, type Tile, tileBox, tileKey, tilesSeen } from "./seen";

interface Held {
  tile: Tile;
  url: string;
  image: HTMLImageElement;
}
const MOST = 160;
const AGAIN_MS = 2500;

export interface Tiles {
  /** Draws what is here in photo px. */
  draw: (on: CanvasRenderingContext2D) => void;
  /** Whether all that is in view is here as it is asked for. */
  settled: boolean;
  /** Rises with each tile that comes in. */
  version: number;
}

export function useTiles(
  photo: Size & { id: string },
  proxy: string,
  query: string,
  seen: Seen,
  room: Size,
): Tiles {
  const held = useRef(new Map<string, Held>());
  const coming = useRef(new Map<string, string>());
  const under = useRef<HTMLImageElement>(undefined);
  const [version, setVersion] = useState(0);
  const [tries, setTries] = useState(0);
  const level = levelOf(seen.k, window.devicePixelRatio);
  const wanted = tilesSeen(seen, room, photo, level);
  const url = ({ level, x, y }: Tile) => `/api/photos/${photo.id}/tiles/${level}/${x}/${y}?${query}`;
  const addresses = wanted.map(url).join(" ");
  useEffect(() => {
    const image = new Image();
    image.src = proxy;
    image.onload = () => {
      under.current = image;
      setVersion((now) => now + 1);
    };
  }, [proxy]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: what is wanted is told by its addresses
  useEffect(() => {
    for (const tile of wanted) {
      const [key, from] = [tileKey(tile), url(tile)];
      if (held.current.get(key)?.url === from) {
        coming.current.delete(key); // of a state that was left again: it must not take the place of this one
        continue;
      }
      if (coming.current.get(key) === from) continue;
      coming.current.set(key, from);
      const image = new Image();
      image.src = from;
      image.decode().then(
        () => {
          if (coming.current.get(key) !== from) return; // a later state was asked for meanwhile
          coming.current.delete(key);
          held.current.delete(key);
          held.current.set(key, { tile, url: from, image });
          for (const oldest of held.current.keys()) {
            if (held.current.size <= MOST) break;
            held.current.delete(oldest);
          }
          setVersion((now) => now + 1);
        },
        () => {
          if (coming.current.get(key) === from) coming.current.delete(key);
          setTimeout(() => setTries((now) => now + 1), AGAIN_MS); // a server that is gone comes back
        },
      );
    }
  }, [addresses, tries]);
  const draw = (on: CanvasRenderingContext2D) => {
    if (under.current) on.drawImage(under.current, 0, 0, photo.width, photo.height);
    const fresh = [...held.current.values()].filter(
      (entry) => entry.tile.level >= level && (entry.url.endsWith(`?${query}`) || entry.tile.level === level),
    );
    for (const { tile, image } of fresh.sort((a, b) => b.tile.level - a.tile.level))
      on.drawImage(image, ...tileBox(tile, photo));
  };
  const settled = wanted.every((tile) => held.current.get(tileKey(tile))?.url === url(tile));
  return { draw, settled, version };
}
