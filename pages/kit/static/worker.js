// The service worker: what a tablet has seen, it can show again without network. Pages come
// from the network first; styles, scripts and fonts never change under their names.
const { version, assets } = self.lugtak;
const shelf = `assets-${version}`;
const pages = "pages";
const pictures = `pictures-${version}`; // named by their content, a release long

self.addEventListener("install", (e) => {
  e.waitUntil(
    caches
      .open(shelf)
      .then((c) => c.addAll(assets))
      .then(() => self.skipWaiting()),
  );
});

self.addEventListener("activate", (e) => {
  const old = (name) => ![shelf, pages, pictures].includes(name);
  const clear = async () => {
    for (const name of (await caches.keys()).filter(old)) await caches.delete(name);
    // Where every way leads back to is known from the first: it was fetched before there was anybody to keep it.
    await keep(`${location.origin}/`, await fetch("/").catch(() => null));
    await self.clients.claim();
    // What is open was fetched before there was anybody to keep it.
    for (const page of await self.clients.matchAll({ type: "window" }))
      await keep(page.url, await fetch(page.url).catch(() => null));
  };
  e.waitUntil(clear());
});

const noNetwork = async () => {
  const page = await caches.match("/nonetwork");
  return page ? new Response(page.body, { status: 503, headers: page.headers }) : Response.error();
};

// own says that an answer is the shop's, and not that of a proxy or a portal before it.
const own = (answer) => answer.headers.get("X-Lugtak") !== null;

// keep keeps a page under its path: what was chosen on it comes with the next look.
const keep = async (url, answer) => {
  const path = new URL(url).pathname;
  if (path === "/signin")
    await caches.delete(pages); // whoever signs in finds no pages of another
  else if (answer && answer.ok && !answer.redirected && own(answer))
    await (await caches.open(pages)).put(path, answer.clone());
};

const navigate = async (request) => {
  const path = new URL(request.url).pathname;
  let answer = null;
  try {
    answer = await fetch(request);
    if (answer.type === "opaqueredirect" || own(answer)) {
      if (request.method === "GET" || path === "/signin") await keep(request.url, answer);
      return answer;
    }
  } catch {
    /* nobody answered */
  }
  const kept = await (await caches.open(pages)).match(path);
  return kept || answer || (await noNetwork());
};

const picture = async (request) => {
  const shelf = await caches.open(pictures);
  const kept = await shelf.match(request);
  if (kept) return kept;
  const answer = await fetch(request);
  if (answer.ok && own(answer)) await shelf.put(request, answer.clone());
  return answer;
};

self.addEventListener("fetch", (e) => {
  const url = new URL(e.request.url);
  if (url.origin !== location.origin) return;
  if (e.request.mode === "navigate") e.respondWith(navigate(e.request));
  else if (url.pathname.startsWith("/static/")) {
    e.respondWith(caches.match(e.request).then((kept) => kept || fetch(e.request)));
  } else if (url.pathname.startsWith("/pictures/")) e.respondWith(picture(e.request));
});
