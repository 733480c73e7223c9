// A client of the shop's API, as a script elsewhere would write it: by the OpenAPI text and
// nothing else.
export class Shop {
  constructor(base, token) {
    this.base = base;
    this.token = token;
  }

  /** Learns the calls from the shop's own description. */
  async learn() {
    const text = await (await fetch(`${this.base}/api/v1/openapi.json`)).json();
    this.calls = new Map();
    for (const [path, methods] of Object.entries(text.paths))
      for (const [method, call] of Object.entries(methods))
        this.calls.set(call.operationId, { path, method, ...call });
    return this;
  }

  /** Asks by a call's name; what its path names is taken out of params, the rest is its query. */
  async ask(name, params = {}, body = undefined, headers = {}) {
    const call = this.calls.get(name);
    if (!call) throw new Error(`the shop has no call ${name}`);
    const query = new URLSearchParams();
    let path = call.path;
    for (const [key, value] of Object.entries(params)) {
      if (path.includes(`{${key}}`)) path = path.replace(`{${key}}`, encodeURIComponent(value));
      else query.set(key, value);
    }
    const res = await fetch(`${this.base}${path}?${query}`, {
      method: call.method.toUpperCase(),
      headers: { authorization: `Bearer ${this.token}`, ...headers },
      body: body && JSON.stringify(body),
    });
    if (res.status === 304) return null;
    const answer = await res.json();
    if (!res.ok) throw Object.assign(new Error(answer.detail), answer);
    return answer;
  }

  /** Every item of a list, page by page. */
  async *all(name, params = {}) {
    for (let after = ""; ;) {
      const page = await this.ask(name, after ? { ...params, after } : params);
      yield* page.items;
      if (!page.next) return;
      after = page.next;
    }
  }

  /** Events as they come, from the one behind `after`. */
  async *events(after, signal) {
    const res = await fetch(`${this.base}${this.calls.get("event-stream").path}`, {
      headers: { authorization: `Bearer ${this.token}`, "last-event-id": String(after) },
      signal,
    });
    let rest = "";
    for await (const chunk of res.body.pipeThrough(new TextDecoderStream())) {
      rest += chunk;
      const whole = rest.split("\n\n");
      rest = whole.pop();
      for (const one of whole) {
        const data = one.split("\n").find((line) => line.startsWith("data: "));
        if (data) yield JSON.parse(data.slice(6));
      }
    }
  }
}
