// @vitest-environment happy-dom
import { beforeEach, describe, expect, it, vi } from "vitest";
import { Lost } from "../api/client";
import { isPending } from "../api/pending";
import { waits } from "./flushing";
import { JobStore } from "./jobs";

vi.mock("@mantine/notifications", () => ({ notifications: { show: vi.fn() } }));

/** Parts that no head brings along. */
const LATER: Record<string, unknown> = {
  "/api/parts/layouts/later": { layouts: { later: { layers: [] } } },
  "/api/layouts/later/places": { openings: [], echoes: [], layers: [] },
};

/** A server that answers when it is told to. */
class Server {
  seq = 1;
  asked: { path: string; body: Record<string, unknown> }[] = [];
  held: (() => void)[] = [];
  hold = false;
  down = false;
  status = 200;
  tokens = new Set<unknown>();
  edition = "first";
  more: { id: string; name: string; role: string; layout: string }[] = [];
  readonly fetch = async (request: Request): Promise<Response> => {
    const path = new URL(request.url, "http://x").pathname;
    const body = request.method === "POST" ? await request.clone().json() : {};
    this.asked.push({ path, body });
    if (this.down) throw new TypeError("Failed to fetch");
    if (this.status !== 200)
      return new Response(JSON.stringify({ sentence: "The disk is full." }), { status: this.status });
    if (request.method === "POST" && !this.tokens.has(body.token ?? Symbol())) {
      this.seq += 1;
      if (body.token) this.tokens.add(body.token);
    }
    const answer = JSON.stringify(LATER[path] ?? this.head());
    if (this.hold) await new Promise<void>((go) => this.held.push(go));
    return new Response(answer, { headers: { "Content-Type": "application/json" } });
  };
  head(seq = this.seq) {
    const parts = {
      sheets: {
        [`ss${this.more.length}`]: {
          sheets: [{ id: "s1", name: "One", role: "page", layout: "ll" }, ...this.more],
        },
      },
      labs: { lab: {} },
      piles: { pp: { photos: [] } },
      editions: {
        ee: { id: "first", name: "First", fillings: {} },
        e2: { id: "second", name: "Second", fillings: {} },
      },
      layouts: { ll: { layers: [{ kind: "opening", id: "a", opacity: 1 }] } },
    };
    return {
      id: "job", seq, number: seq, root: `r${seq}`, undo: "", redo: "", edition: this.edition, unseen: 0, task: null,
      job: { name: `after ${seq}`, lab: "lab", sheets: `ss${this.more.length}`, pile: "pp", editions: ["ee", "e2"] },
      marks: [{ id: "s1" }, ...this.more].map(() => ({ key: "kk", ratio: 2, counts: null })), parts, measured: { kk: { rows: [], findings: [] } },
      places: { ll: { openings: [], echoes: [], layers: [] } },
    }; // biome-ignore format: a head
  }
  changes() {
    return this.asked.filter(({ path }) => path.endsWith("/edits")).map(({ body }) => body.edit);
  }
}

let server: Server;
let store: JobStore;
const settle = () => new Promise((go) => setTimeout(go, 20));
const opacity = (value: number) => ({
  make: () =>
    ({ op: "set_fields", sheet: "s1", layers: ["a"], fields: { opacity: value }, expect: {} }) as never,
});
const shown = () => (store.viewOf("s1")?.layout.layers[0] as { opacity: number } | undefined)?.opacity;

beforeEach(async () => {
  server = new Server();
  vi.stubGlobal("fetch", server.fetch);
  store = new JobStore("job");
  store.subscribe(() => {});
  await store.load();
});

describe("a change that is made once all before it are stored", () => {
  it("is made of what those are stored as, and goes out in its turn", async () => {
    server.hold = true;
    store.push(opacity(0.1));
    const made: unknown[] = [];
    store.push({
      later: (now) => {
        made.push([now.seq, now.sheet.id]);
        return { op: "rename", name: "After", customer: "" } as never;
      },
    });
    store.push(opacity(0.3));
    await settle();
    expect([made, store.waiting, isPending()]).toEqual([[], 3, true]);
    server.hold = false;
    server.held.forEach((go) => { go(); }); // biome-ignore format: short
    await settle();
    expect(made).toEqual([[2, "s1"]]);
    expect(server.changes().map((edit) => (edit as { op: string }).op)).toEqual([
      "set_fields",
      "rename",
      "set_fields",
    ]);
    expect([store.waiting, isPending()]).toEqual([0, false]);
  });
  it("may ask the server first, is asked again when that is lost, and shows what stands for it meanwhile", async () => {
    let asked = 0;
    const instead = opacity(0.6).make();
    store.push({
      meanwhile: () => instead,
      later: async () => {
        asked += 1;
        if (asked === 1) throw new Lost("away");
        return opacity(0.7).make();
      },
    });
    store.push(opacity(0.8));
    expect(shown()).toBe(0.8);
    await new Promise((go) => setTimeout(go, 700)); // the first time out of reach
    expect([asked, server.changes().map((edit) => (edit as never as { fields: object }).fields)]).toEqual([
      2,
      [{ opacity: 0.7 }, { opacity: 0.8 }],
    ]);
  });
  it("is of the edition that was in view as it was queued, though another one is by then", async () => {
    server.hold = true;
    store.push(opacity(0.1));
    const made: string[] = [];
    store.push({ later: (now) => { made.push(now.own.id); return undefined; } }); // biome-ignore format: short
    server.edition = "second";
    store.turnTo("second");
    server.hold = false;
    server.held.forEach((go) => { go(); }); // biome-ignore format: short
    await store.settled();
    expect(store.head?.edition).toBe("second");
    expect(made).toEqual(["first"]);
  });
  it("may come to nothing, and holds nothing up then", async () => {
    store.push({ later: () => undefined });
    store.push(opacity(0.2));
    await settle();
    expect(server.changes()).toHaveLength(1);
    expect([store.waiting, isPending()]).toEqual([0, false]);
  });
});

describe("changes of a job", () => {
  it("that an undo behind them takes back are not shown, those of one gesture together", async () => {
    server.hold = true;
    const slid = (value: number) => ({ ...opacity(value), gesture: "slide" });
    store.push(opacity(0.1));
    store.push(slid(0.2));
    store.push(slid(0.3));
    expect(shown()).toBe(0.3);
    store.push({ back: "undo" });
    expect(shown()).toBe(0.1);
    store.push({ back: "redo" });
    expect(shown()).toBe(0.3);
    store.push({ back: "undo" });
    store.push({ back: "undo" });
    expect(shown()).toBe(1);
    store.push(opacity(0.4));
    store.push({ back: "redo" }); // there is nothing to redo after a change
    expect(shown()).toBe(0.4);
    server.hold = false;
    server.held.forEach((go) => { go(); }); // biome-ignore format: short
    await store.settled();
  });
  it("go out one after the other, in order, each under its token", async () => {
    server.hold = true;
    store.push(opacity(0.1));
    store.push(opacity(0.2));
    await settle();
    expect(server.changes()).toHaveLength(1);
    expect(store.waiting).toBe(2);
    expect(isPending()).toBe(true);
    server.hold = false;
    server.held.forEach((go) => { go(); }); // biome-ignore format: short
    await settle();
    expect(server.changes()).toHaveLength(2);
    expect(new Set(server.asked.map(({ body }) => body.token).filter(Boolean)).size).toBe(2);
    expect([store.waiting, isPending()]).toEqual([0, false]);
    expect(store.head?.seq).toBe(3);
  });
  it("can be waited for, as an export does: until the last is stored, and not at all when there is none", async () => {
    await store.settled();
    server.hold = true;
    store.push(opacity(0.1));
    store.push(opacity(0.2));
    const settled = vi.fn();
    store.settled().then(settled);
    await settle();
    expect(settled).not.toHaveBeenCalled();
    server.hold = false;
    server.held.forEach((go) => { go(); }); // biome-ignore format: short
    await settle();
    expect(settled).toHaveBeenCalledOnce();
    expect(server.changes()).toHaveLength(2);
  });
  it("are shown while they are on their way, and made from what is shown", async () => {
    server.hold = true;
    expect(shown()).toBe(1);
    store.push(opacity(0.5));
    expect(shown()).toBe(0.5);
    let saw = 0;
    store.push({
      make: (now) => {
        saw = (now.layout.layers[0] as { opacity: number }).opacity;
        return undefined;
      },
    });
    expect(saw).toBe(0.5);
  });
  it("send what waits before them", async () => {
    const order: string[] = [];
    waits(() => order.push("typed"));
    store.push({ make: () => void order.push("made") });
    expect(order).toEqual(["typed", "made"]);
  });
});

describe("another sheet", () => {
  it("is shown once its parts are here; until then what was shown stays, and changes are made of that", async () => {
    expect(store.viewOf("s1")?.sheet.id).toBe("s1");
    server.more = [{ id: "s2", name: "Two", role: "page", layout: "later" }];
    await store.load();
    expect(store.viewOf("s2")?.sheet.id).toBe("s1");
    const made: (string | undefined)[] = [];
    store.push({ make: (now) => void made.push(now.sheet.id) });
    await settle();
    expect(store.viewOf("s2")?.sheet.id).toBe("s2");
    store.push({ make: (now) => void made.push(now.sheet.id) });
    expect(made).toEqual(["s1", "s2"]);
  });
});

describe("answers", () => {
  it("that are late never bring an old state back", async () => {
    server.hold = true;
    const slow = store.load();
    await settle();
    const [release] = server.held;
    server.hold = false;
    store.push(opacity(0.5));
    await settle();
    expect(store.head?.seq).toBe(2);
    release?.();
    await slow;
    expect(store.head?.seq).toBe(2);
    expect(store.viewOf("s1")?.job.name).toBe("after 2");
  });
  it("that refuse take the change back and the job as it is is fetched", async () => {
    server.status = 409;
    const failed = vi.fn();
    store.push(opacity(0.5), { onFailed: failed });
    await settle();
    expect(failed).toHaveBeenCalledOnce();
    expect([store.waiting, shown()]).toEqual([0, 1]);
  });
});

describe("a lost server", () => {
  it("is said; what was changed waits and is sent once it is back, and done once", async () => {
    server.down = true;
    store.push(opacity(0.5));
    store.push(opacity(0.6));
    await settle();
    expect(store.lost).toBe("Sutaru does not answer.");
    expect(shown()).toBe(0.6); // the bench stays
    expect(store.waiting).toBe(2);
    server.down = false;
    store.again();
    await settle();
    expect([store.waiting, store.lost, store.head?.seq]).toEqual([0, "", 3]);
  });
  it("may have done what it did not answer: under its token it is not done again", async () => {
    const real = server.fetch;
    let once = true;
    vi.stubGlobal("fetch", async (request: Request) => {
      const answer = await real(request);
      if (once && request.method === "POST") {
        once = false;
        throw new TypeError("connection reset");
      }
      return answer;
    });
    store.push(opacity(0.5));
    await settle();
    store.again();
    await settle();
    expect(server.changes()).toHaveLength(2);
    expect([server.seq, store.waiting]).toEqual([2, 0]);
  });
  it("without room keeps the change too, in the server's words", async () => {
    server.status = 507;
    store.push(opacity(0.5));
    await settle();
    expect([store.lost, store.waiting]).toEqual(["The disk is full.", 1]);
    server.status = 200;
    store.again();
    await settle();
    expect(store.waiting).toBe(0);
  });
  it("that wants the passphrase again keeps the change until it is given", async () => {
    server.status = 401;
    store.push(opacity(0.5));
    await settle();
    expect(store.waiting).toBe(1);
    server.status = 200;
    store.again();
    await settle();
    expect([server.seq, store.waiting]).toEqual([2, 0]);
  });
});

describe("a server that stays away", () => {
  const away = async (status: number) => {
    server.more = [2, 3, 4, 5].map((n) => ({
      id: `s${n}`,
      name: "",
      role: "page",
      layout: `gone${n}-${status}`,
    }));
    await store.load(true);
    // The screen is drawn anew at each change, and now and then besides.
    store.subscribe(() => store.viewOf("s2"));
    vi.useFakeTimers();
    try {
      if (status) server.status = status;
      else server.down = true;
      const before = server.asked.length;
      for (let n = 0; n < 600; n++) {
        if (n % 10 === 0) store.viewOf(`s${2 + (n % 4)}`);
        await vi.advanceTimersByTimeAsync(100);
      }
      return server.asked.length - before;
    } finally {
      vi.useRealTimers();
    }
  };
  it("for a minute is asked less than once a second, whatever is missing", async () => {
    expect(await away(0)).toBeLessThan(60);
  });
  it("or has gaps is asked no more often", async () => {
    expect(await away(503)).toBeLessThan(60);
  });
});

describe("news", () => {
  it("of a later state is fetched, once for many; of what is known it is not", async () => {
    const before = server.asked.length;
    store.hear(1);
    await new Promise((go) => setTimeout(go, 400));
    expect(server.asked.length).toBe(before);
    server.seq = 9;
    store.hear(7);
    store.hear(8);
    store.hear(9);
    await new Promise((go) => setTimeout(go, 400));
    expect(server.asked.length).toBe(before + 1);
    expect(store.head?.seq).toBe(9);
  });
});
