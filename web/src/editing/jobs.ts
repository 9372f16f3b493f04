/**
 * The jobs that this tab works on. Each is where the server says it stands, plus the changes that are on their way to it,
 * in order. A head with a lower sequence number than the one shown is old and never shown; a change that found no server
 * stays first in the queue until there is one, and is not done twice, since it carries a token.
 */
import { answer, api, type Edit, type JobHead, Lost } from "../api/client";
import { listen } from "../api/news";
import { keepAll, part, pilePhotos, want, wantFacts, wantMany } from "../api/parts";
import { pending } from "../api/pending";
import { complain } from "../ui/complain";
import { flush } from "./flushing";
import { assembled, foreseen, type View } from "./view";

export interface Done {
  onStored?: (head: JobHead) => void;
  onFailed?: () => void;
}
/** How to make an edit from the job as it is known when it is queued. */
interface Make {
  make: (now: View) => Edit | undefined;
  gesture?: string;
}
/** How to make it once all before it are stored, the server being asked first where need be; `shown` is shown until then. */
interface Later {
  later: (now: View) => Edit | undefined | Promise<Edit | undefined>;
  gesture?: string;
  shown?: Edit;
}
export type Change = { edit: Edit; gesture?: string } | { back: "undo" | "redo" } | { to: number };
interface Entry extends Done {
  /** What is made later is of the sheet and the edition that were in view, whatever is in view by then. */
  change: Change | (Later & { sheet: string; edition: string });
  token: string;
  stored: () => void;
  tried?: boolean;
}
/** An edit, or how to make it from the job as it is known when it is made. */
export type Made = Edit | ((now: View) => Edit | undefined);

const RETRY = [500, 1000, 2000, 4000];
/** Nothing has failed for so long: what fails next is the first again. */
const CALM = 10_000;
const NEWS = 300;

export class JobStore {
  head?: JobHead;
  /** Why there is nothing to show. */
  error = "";
  /** Why changes wait: no server, or no room; "" when they do not. */
  lost = "";
  edition = "";
  private queue: Entry[] = [];
  private busy = false;
  private wake = () => {};
  private version = 0;
  private newest = 0;
  private view?: { version: number; sheet: string; view: View | undefined };
  private shown = new Map<string, View>();
  private last?: View;
  private readonly listeners = new Set<() => void>();
  private timer?: ReturnType<typeof setTimeout>;
  /** Set while it is to be asked again where the job stands: by one asking, however much failed. */
  private asking?: ReturnType<typeof setTimeout>;
  private anew = false;
  private failed = { times: 0, at: 0 };
  private sheet = "";

  constructor(readonly id: string) {}

  readonly subscribe = (listener: () => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };
  readonly snapshot = () => this.version;
  private changed() {
    this.version += 1;
    for (const listener of this.listeners) listener();
  }

  /** How many changes are on their way. */
  get waiting() {
    return this.queue.length;
  }
  /** Whether an edit of a kind is on its way. */
  under(op: Edit["op"]) {
    return this.queue.some(({ change }) => "edit" in change && change.edit.op === op);
  }

  /** Whether the job is on its way to another of its states: where things lie is not known until it is there. */
  get turning() {
    return this.queue.some(({ change }) => "back" in change || "to" in change);
  }

  /** Waits until all changes that are on their way are stored, or refused. */
  settled(): Promise<void> {
    return new Promise((resolve) => {
      const look = () => {
        if (this.queue.length) return;
        stop();
        resolve();
      };
      const stop = this.subscribe(look);
      look();
    });
  }

  /** Turns to an edition; "" is the first. */
  turnTo(edition: string) {
    if (this.head && edition === this.edition) return;
    this.edition = edition;
    this.load(true);
  }

  /** Asks where the job stands. */
  async load(all = false): Promise<void> {
    const anew = all || this.anew;
    this.anew = false;
    clearTimeout(this.asking);
    this.asking = undefined;
    const known = { have: anew ? "" : (this.head?.root ?? ""), edition: this.edition, view: this.sheet };
    const edition = this.edition;
    try {
      const head = await answer<JobHead>(
        api.GET("/api/jobs/{job}", { params: { path: { job: this.id }, query: known } }),
      );
      if (edition !== this.edition) return;
      this.error = "";
      this.accept(head);
    } catch (error) {
      if (error instanceof Lost) {
        this.lost = error.message;
        this.askLater(anew);
      } else if (!this.head) this.error = (error as Error).message;
      this.changed();
    }
  }

  /** Asks again where the job stands, later each time in a row, as long as somebody looks. */
  private askLater(anew: boolean) {
    this.anew ||= anew;
    if (this.asking) return;
    const now = Date.now();
    const times = now - this.failed.at > CALM ? 0 : this.failed.times;
    this.failed = { times: times + 1, at: now };
    this.asking = setTimeout(
      () => {
        this.asking = undefined;
        if (this.listeners.size) this.load();
      },
      RETRY[Math.min(times, RETRY.length - 1)],
    );
  }

  /** Takes a head in, unless one that is newer is shown. */
  private accept(head: JobHead) {
    keepAll(head);
    const now = this.head;
    const other = now && now.edition !== head.edition;
    if (now && !other && head.seq < now.seq) return;
    this.head = head;
    this.newest = Math.max(this.newest, head.seq);
    if (!this.busy) this.lost = "";
    this.changed();
    this.fetchAll(head);
  }

  private async fetchAll(head: JobHead) {
    const later = (error: unknown) => {
      if (error instanceof Lost) this.askLater(false);
    };
    const pile = part("piles", head.job.pile);
    await wantMany("chunks", pile?.chunks ?? []).catch(later);
    const facts = wantFacts((pile && pilePhotos(pile)?.map(({ id }) => id)) ?? []);
    if (await facts.catch(later)) this.changed();
    const editions = head.job.editions
      .map((name) => part("editions", name))
      .find((edition) => edition?.id === head.edition);
    if (editions)
      await wantMany("fillings", Object.values(editions.fillings)).then(() => this.changed(), later);
  }

  /** Acts on news: a later state, photos looked at, sheets measured. Many at once are one fetch. */
  hear(seq?: number) {
    if (seq !== undefined) {
      this.newest = Math.max(this.newest, seq);
      if (this.newest <= (this.head?.seq ?? 0)) return;
    }
    if (this.timer || !this.listeners.size) return;
    this.timer = setTimeout(async () => {
      this.timer = undefined;
      if (this.busy) return; // the answer under way is newer, or asks for more when it is there
      await this.load();
    }, NEWS);
  }

  /** Photos were looked at. */
  async found(ids: string[]) {
    const pile = this.head && part("piles", this.head.job.pile);
    const photos = pile && pilePhotos(pile);
    if (!photos || !this.listeners.size) return;
    const mine = new Set(photos.map(({ id }) => id));
    await wantFacts(
      ids.filter((id) => mine.has(id)),
      true,
    ).catch(() => {});
    this.hear();
  }

  /** The server fell silent: whether it still answers is asked, until it does. */
  ask() {
    if (this.listeners.size && !this.lost) this.askLater(false);
  }

  /** The server is back, or some news were missed. */
  again() {
    this.wake();
    if (this.listeners.size) this.load();
  }

  /**
   * The sheet as it is to be shown: with all changes that are on their way. What was shown last, while parts come, be it
   * another sheet: a screen that goes blank begins anew, its lists scrolled back.
   */
  viewOf(sheet: string): View | undefined {
    this.sheet = sheet;
    if (this.view?.version === this.version && this.view.sheet === sheet) return this.view.view;
    const found = this.head && assembled(this.head, sheet);
    let view = this.shown.get(sheet) ?? this.last;
    if (Array.isArray(found)) {
      // What cannot be had is not asked for again before the job is: other parts may make it up by then.
      if (!this.asking)
        for (const { kind, name } of found)
          want(kind, name).then(
            () => this.changed(),
            () => this.askLater(true),
          );
    } else if (found) {
      view = found;
      this.last = found;
      this.shown.set(sheet, found);
      if (this.shown.size > 8) this.shown.delete(this.shown.keys().next().value ?? "");
    }
    for (const edit of this.coming()) if (view) view = foreseen(view, edit);
    this.view = { version: this.version, sheet, view };
    return view;
  }

  /** Edits that are on their way, but for those that an undo behind them takes back. */
  private coming(): Edit[] {
    const ahead: { edit?: Edit; gesture?: string }[] = [];
    const undone: (typeof ahead)[] = [];
    for (const { change } of this.queue) {
      if ("edit" in change) ahead.push(change);
      else if ("later" in change) ahead.push({ edit: change.shown, gesture: change.gesture });
      else if ("to" in change) ahead.length = 0;
      else if (change.back === "redo") ahead.push(...(undone.pop() ?? []));
      else {
        const { gesture } = ahead.at(-1) ?? {};
        const first = gesture ? ahead.findIndex((one) => one.gesture === gesture) : -1;
        undone.push(ahead.splice(first < 0 ? -1 : first));
        continue;
      }
      if ("edit" in change || "later" in change) undone.length = 0;
    }
    return ahead.flatMap(({ edit }) => edit ?? []);
  }

  /** Queues a change. What is typed or pulled and not sent yet goes before it. */
  push(change: Change | Make | (Later & { meanwhile?: Make["make"] }), done: Done = {}) {
    flush();
    let what: Entry["change"];
    const now = this.viewOf(this.sheet);
    if ("make" in change) {
      const edit = now && change.make(now);
      if (!edit) return;
      what = { edit, gesture: change.gesture };
    } else if ("later" in change) {
      const shown = now && change.meanwhile?.(now);
      const { sheet = { id: this.sheet }, own = { id: this.edition } } = now ?? {};
      what = { ...change, shown, sheet: sheet.id, edition: own.id };
    } else what = change;
    this.queue.push({ change: what, token: crypto.randomUUID(), stored: pending(), ...done });
    this.changed();
    this.pump();
  }

  /** A sheet of an edition as it is stored, once all parts of it are here. */
  private async stored(sheet: string, edition: string): Promise<View | undefined> {
    for (;;) {
      const view = this.head && assembled({ ...this.head, edition }, sheet);
      if (!Array.isArray(view)) return view;
      await Promise.all(view.map(({ kind, name }) => want(kind, name)));
    }
  }

  private async pump() {
    if (this.busy) return;
    this.busy = true;
    let tries = 0;
    for (let entry = this.queue[0]; entry; entry = this.queue[0]) {
      try {
        if ("later" in entry.change) {
          const { later, gesture, sheet, edition } = entry.change;
          const now = await this.stored(sheet, edition);
          const edit = now && (await later(now));
          if (!edit) {
            this.queue.shift();
            entry.stored();
            this.changed();
            continue;
          }
          entry.change = { edit, gesture };
          this.changed();
        }
        const head = await this.send(entry, entry.change);
        this.queue.shift();
        entry.stored();
        tries = 0;
        this.lost = "";
        if (head) this.accept(head);
        else await this.load();
        this.changed();
        if (head) entry.onStored?.(head);
      } catch (error) {
        if (error instanceof Lost) {
          entry.tried = !("later" in entry.change);
          this.lost = error.message;
          this.changed();
          await new Promise<void>((resolve) => {
            this.wake = resolve;
            setTimeout(resolve, RETRY[Math.min(tries, RETRY.length - 1)]);
          });
          tries += 1;
          continue;
        }
        this.queue.shift();
        entry.stored();
        complain(error);
        entry.onFailed?.();
        await this.load();
      }
    }
    this.busy = false;
    if (this.newest > (this.head?.seq ?? 0)) this.hear();
  }

  /** Sends one change; undefined when it went through before and only its answer was lost. */
  private async send({ token, tried }: Entry, change: Change): Promise<JobHead | undefined> {
    const known = { have: this.head?.root ?? "", edition: this.edition, view: this.sheet };
    const path = { job: this.id };
    if ("edit" in change)
      return answer<JobHead>(
        api.POST("/api/jobs/{job}/edits", {
          params: { path },
          body: { ...known, edit: change.edit, gesture: change.gesture, token },
        }),
      );
    if ("to" in change)
      return answer<JobHead>(
        api.POST("/api/jobs/{job}/history/{number}", {
          params: { path: { ...path, number: change.to } },
          body: known,
        }),
      );
    // Undo and redo say of which state; sent again after a lost answer, the job may have moved already.
    const seq = tried ? (this.head?.seq ?? null) : null;
    try {
      return await answer<JobHead>(
        change.back === "undo"
          ? api.POST("/api/jobs/{job}/undo", { params: { path }, body: { ...known, seq } })
          : api.POST("/api/jobs/{job}/redo", { params: { path }, body: { ...known, seq } }),
      );
    } catch (error) {
      if (tried && !(error instanceof Lost)) return undefined;
      throw error;
    }
  }
}

const stores = new Map<string, JobStore>();

/** The store of a job. */
export function jobStore(id: string): JobStore {
  const store = stores.get(id) ?? new JobStore(id);
  stores.set(id, store);
  return store;
}

listen((news) => {
  for (const store of stores.values()) {
    if (news.kind === "missed" || news.kind === "back") store.again();
    else if (news.kind === "silent") store.ask();
    else if (news.kind === "found") store.found(news.ids ?? []);
    else if (news.kind === "job" && news.id === store.id) store.hear(news.seq);
    else if (news.kind === "measured" && news.id === store.id) store.hear();
  }
});
