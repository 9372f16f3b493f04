/** Bringing photos in: a queue of files, three at a time, each with its own progress and, if it is refused, its sentence. */
import PQueue from "p-queue";
import { useCallback } from "react";
import { create } from "zustand";
import { Lost, lock, type Photo } from "../../api/client";
import { keepFacts } from "../../api/parts";
import { pending } from "../../api/pending";
import { jobStore } from "../../editing/jobs";
import { t } from "../../words";

export interface Incoming {
  key: number;
  name: string;
  size: number;
  sent: number;
  state: "waiting" | "sending" | "done" | "known" | "refused" | "stopped";
  sentence?: string;
  /** What it became in the pile. */
  photo?: string;
}

interface Queue {
  files: Incoming[];
  change: (key: number, change: Partial<Incoming>) => void;
  add: (files: Incoming[]) => void;
  clear: () => void;
}

export const useQueue = create<Queue>((set) => ({
  files: [],
  change: (key, change) =>
    set(({ files }) => ({ files: files.map((file) => (file.key === key ? { ...file, ...change } : file)) })),
  add: (files) => set((before) => ({ files: [...before.files, ...files] })),
  clear: () => set({ files: [] }),
}));

const sending = new PQueue({ concurrency: 3 });
let counter = 0;
let stopping = new AbortController();

/** Forgets what waits; what is being sent ends. */
export function stopImport() {
  stopping.abort();
  stopping = new AbortController();
  const { files, change } = useQueue.getState();
  for (const file of files) if (file.state === "waiting") change(file.key, { state: "stopped" });
}

function send(job: string, file: File, gesture: string, key: number): Promise<Photo> {
  const { change } = useQueue.getState();
  const query = new URLSearchParams({ name: file.name, gesture });
  return new Promise((resolve, reject) => {
    const request = new XMLHttpRequest();
    request.open("POST", `/api/jobs/${job}/photos?${query}`);
    request.responseType = "json";
    request.upload.onprogress = (event) => change(key, { sent: event.loaded });
    request.onload = () => {
      const body = request.response as { photo: Photo; known: boolean; sentence?: string } | null;
      if (request.status === 201 && body) {
        keepFacts(body.photo);
        change(key, { state: body.known ? "known" : "done", sent: file.size, photo: body.photo.id });
        resolve(body.photo);
      } else {
        if (request.status === 401) lock();
        const sentence =
          body?.sentence ?? t("{name} could not be brought in. Try again.", { name: file.name });
        reject(request.status >= 502 || request.status === 401 ? new Lost(sentence) : new Error(sentence));
      }
    };
    request.onerror = () =>
      reject(new Lost(t("{name} could not be sent: Sutaru does not answer.", { name: file.name })));
    request.send(file);
  });
}

/** Sends one file; when the server does not answer it is sent again, which takes nothing in twice. */
async function brought(
  job: string,
  file: File,
  gesture: string,
  key: number,
  stopped: AbortSignal,
): Promise<Photo> {
  for (let tries = 0; ; tries++)
    try {
      return await send(job, file, gesture, key);
    } catch (error) {
      if (!(error instanceof Lost) || tries >= 20 || stopped.aborted) throw error;
      await new Promise((resolve) => setTimeout(resolve, Math.min(4000, 500 * 2 ** tries)));
    }
}

let running = 0;

/** Brings files into a job's pile; what comes back are the photos that came in. */
export async function bringIn(job: string, files: File[]): Promise<Photo[]> {
  if (files.length === 0) return [];
  const gesture = `import-${crypto.randomUUID()}`;
  const { add, change, clear } = useQueue.getState();
  if (running === 0) clear();
  const mine = files.map((file) => {
    counter += 1;
    return { file, key: counter };
  });
  add(mine.map(({ file, key }) => ({ key, name: file.name, size: file.size, sent: 0, state: "waiting" })));
  running += 1;
  // Leaving before all are in asks first.
  const done = pending();
  const photos: (Photo | undefined)[] = [];
  const { signal } = stopping;
  const take = async (index: number) => {
    const entry = mine[index];
    if (!entry || signal.aborted) return;
    change(entry.key, { state: "sending" });
    try {
      photos[index] = await brought(job, entry.file, gesture, entry.key, signal);
    } catch (error) {
      change(entry.key, { state: "refused", sentence: (error as Error).message });
    }
  };
  let next = 0;
  try {
    // A job may wait for its first photo to choose how its sheets lie: that one goes alone, so that chance does not choose.
    if (jobStore(job).head?.job.variants?.length)
      while (next < mine.length && !photos.some(Boolean)) await take(next++);
    await sending.addAll(mine.slice(next).map((_, n) => () => take(next + n)));
  } finally {
    running -= 1;
    done();
  }
  await jobStore(job).load();
  return photos.filter((photo): photo is Photo => photo !== undefined);
}

export const useImport = (job: string) => useCallback((files: File[]) => bringIn(job, files), [job]);

/** Files of a drop, folders opened. */
export async function droppedFiles(transfer: DataTransfer): Promise<File[]> {
  const entries = [...transfer.items]
    .map((item) => item.webkitGetAsEntry?.())
    .filter((entry) => entry != null);
  if (entries.length === 0) return [...transfer.files];
  const files: File[] = [];
  const walk = async (entry: FileSystemEntry): Promise<void> => {
    if (entry.isFile) {
      files.push(await new Promise<File>((done, fail) => (entry as FileSystemFileEntry).file(done, fail)));
      return;
    }
    const reader = (entry as FileSystemDirectoryEntry).createReader();
    for (;;) {
      const some = await new Promise<FileSystemEntry[]>((done, fail) => reader.readEntries(done, fail));
      if (some.length === 0) return;
      for (const child of some) await walk(child);
    }
  };
  for (const entry of entries) await walk(entry);
  return files.filter((file) => !file.name.startsWith("."));
}
