// What the pages do beyond forms and links: keys, clocks, the live trace, and what waits
// while the network is away. Every page works without.
"use strict";
(() => {
  const main = () => document.querySelector("main[data-live]");

  // ---- keys -------------------------------------------------------------
  const shown = (el) => el && el.offsetParent !== null && !el.disabled;
  const typing = (el) =>
    el &&
    (el.matches("textarea, select") ||
      (el.matches("input") && !["checkbox", "radio", "hidden"].includes(el.type)));
  // A second tap on what has only just come up keeps nothing: nobody has seen it yet.
  const guard = 600;
  let shownAt = 0;
  document.addEventListener(
    "click",
    (e) => {
      if (e.target.closest && e.target.closest(".keys .go") && Date.now() - shownAt < guard) {
        e.preventDefault();
        e.stopPropagation();
      }
    },
    true,
  );
  const press = (key) => {
    const el = [...document.querySelectorAll(`[data-key="${key}"]`)].find(shown);
    if (el) el.click();
    return !!el;
  };
  document.addEventListener("keydown", (e) => {
    if (e.ctrlKey || e.metaKey || e.altKey || typing(e.target)) return;
    const field = document.querySelector(`[data-focuskey="${CSS.escape(e.key)}"]`);
    if (field) {
      field.focus();
      e.preventDefault();
      return;
    }
    if (e.key === "?") {
      showKeys();
      e.preventDefault();
      return;
    }
    // Space on a focused control is that control's own.
    if (e.key === " " && e.target.closest("button, a[href], summary, input, [tabindex]")) return;
    if (document.querySelector("dialog[open]")) return;
    if (!e.repeat && press(e.key.toLowerCase())) e.preventDefault();
  });
  const showKeys = () => {
    const d = document.getElementById("keys");
    const list = d.querySelector("dl");
    list.replaceChildren();
    const add = (k, what) => {
      const dt = document.createElement("dt"),
        dd = document.createElement("dd");
      dt.textContent = k;
      dd.textContent = what;
      list.append(dt, dd);
    };
    for (const el of document.querySelectorAll("[data-key]")) {
      const label = el.firstChild ? el.firstChild.textContent.trim() : "";
      if (shown(el)) add(el.dataset.key === " " ? "space" : el.dataset.key.toUpperCase(), label);
    }
    add("tab", "the next control");
    add("?", "this list");
    if (!d.open) d.showModal();
  };
  document.addEventListener("click", (e) => {
    if (e.target.closest(".keys-open")) showKeys();
    const fill = e.target.closest(".fill");
    if (fill) {
      document.getElementById("name").value = fill.dataset.name;
      document.getElementById("pin").value = fill.dataset.pin;
      fill.closest(".card").querySelector("form").requestSubmit();
    }
  });
  // Trouble opens over the picture at once, network or not.
  document.addEventListener("click", (e) => {
    const at = e.target.closest && e.target.closest(".bench .key.trouble, .bench .untrouble");
    if (!at) return;
    e.preventDefault();
    const open = at.matches(".trouble");
    main().classList.toggle("introuble", open);
    const heading = document.querySelector(open ? ".introuble-only h2" : ".bench .what");
    if (heading) heading.focus({ preventScroll: true });
  });
  // Signing in: a name is touched, then the PIN on the pad.
  const pad = document.querySelector(".pinpad");
  if (pad) {
    pad.hidden = false;
    document.addEventListener("click", (e) => {
      const name = e.target.closest(".nameof"),
        digit = e.target.closest("[data-digit]");
      const pin = document.getElementById("pin");
      if (name) {
        document.getElementById("name").value = name.dataset.name;
        for (const n of document.querySelectorAll(".nameof")) n.setAttribute("aria-pressed", n === name);
        pin.focus();
      }
      if (!digit) return;
      pin.value = digit.dataset.digit === "⌫" ? pin.value.slice(0, -1) : pin.value + digit.dataset.digit;
    });
  }
  // A sheet: what is typed leaves the rows that hold it; a row rings its joint.
  document.addEventListener("input", (e) => {
    const rows = e.target.dataset.filter;
    if (!rows) return;
    const words = e.target.value.toLowerCase().split(/\s+/);
    for (const row of document.querySelectorAll(rows)) {
      const text = row.textContent.toLowerCase();
      row.hidden = !words.every((w) => text.includes(w));
    }
  });
  const ring = (e) => {
    const row = e.target.closest && e.target.closest(".sheetrow[data-joint]");
    if (!row) return;
    for (const j of document.querySelectorAll(".sheetpic [data-joint]")) {
      j.classList.toggle("ringed", j.dataset.joint === row.dataset.joint);
    }
  };
  for (const kind of ["pointerover", "focusin", "click"]) document.addEventListener(kind, ring);
  // A file goes into the field that names its text, where it can be looked at.
  document.addEventListener("change", async (e) => {
    if (!e.target.matches("[data-into]") || !e.target.files[0]) return;
    const into = document.getElementById(e.target.dataset.into);
    into.value = await e.target.files[0].text();
    into.dispatchEvent(new Event("input", { bubbles: true }));
  });
  // A bar too narrow for its words says them below the timeline.
  for (const kind of ["focusin", "pointerover"]) {
    document.addEventListener(kind, (e) => {
      const bar = e.target.closest && e.target.closest("[data-says]");
      if (bar) bar.closest("figure").querySelector(".says-bar").textContent = bar.dataset.says;
    });
  }
  // A step to be moved: the arrows walk it through the plan, and what that costs is said
  // before anything is moved.
  let tried = 0;
  const tryMove = async (input) => {
    const form = input.form,
      mine = ++tried;
    const out = form.querySelector(".trycost");
    if (input.value.trim() === "") {
      out.textContent = "";
      return;
    }
    const query = new URLSearchParams({ step: form.elements.step.value, behind: input.value });
    try {
      const res = await fetch(`${form.dataset.try}?${query}`);
      const text = res.ok ? await res.text() : "";
      if (mine === tried) out.textContent = text;
    } catch {
      out.textContent = "";
    }
  };
  document.addEventListener("input", (e) => {
    if (e.target.closest("form[data-try]")) tryMove(e.target);
  });
  document.addEventListener("keydown", (e) => {
    const input = e.target.closest && e.target.closest("form[data-try] .input");
    if (!input) return;
    if (e.key === "Escape") {
      input.value = "";
      input.closest("details").open = false;
      return;
    }
    const by = { ArrowUp: -1, ArrowDown: 1 }[e.key];
    if (!by) return;
    e.preventDefault();
    const stands = Number(input.dataset.no) - 1;
    let to = (input.value === "" ? stands : Number(input.value)) + by;
    if (to === stands + 1) to += by; // behind itself it stands where it is
    input.value = String(Math.max(0, to));
    tryMove(input);
  });
  document.addEventListener("change", (e) => {
    if (e.target.matches("[data-go]")) e.target.form.requestSubmit();
  });
  // What is offered beside the order is ticked where it stands on the vehicle.
  document.addEventListener("click", (e) => {
    const offer = e.target.closest("[data-tick]");
    if (!offer) return;
    const box = document.querySelector(`input[name="task"][value="${CSS.escape(offer.dataset.tick)}"]`);
    if (box && !box.checked) box.click();
  });

  // ---- clocks -----------------------------------------------------------
  const tick = () => {
    for (const el of document.querySelectorAll("[data-until]")) {
      const left = Math.max(0, Math.round((Date.parse(el.dataset.until) - Date.now()) / 1000));
      if (isNaN(left)) continue;
      el.textContent = left ? `${Math.floor(left / 60)}:${String(left % 60).padStart(2, "0")}` : "done";
    }
    for (const el of document.querySelectorAll("progress[data-to]")) {
      const from = Date.parse(el.dataset.from),
        to = Date.parse(el.dataset.to);
      el.value = Math.min(100, Math.max(0, (100 * (Date.now() - from)) / (to - from)));
    }
  };
  setInterval(tick, 1000);

  // ---- the live trace ---------------------------------------------------
  let stream = null,
    streamURL = "",
    points = [],
    a0 = 0;
  const plot = () => document.querySelector("svg[data-plot]");
  const draw = () => {
    const svg = plot();
    if (!svg || !points.length) return;
    const n = (k) => Number(svg.dataset[k]);
    let amax = n("amax"),
      mmax = n("mmax");
    for (const p of points) {
      amax = Math.max(amax, p[0]);
      mmax = Math.max(mmax, p[1]);
    }
    if (amax > n("amax") || mmax > n("mmax")) rescale(svg, amax, mmax);
    const x = (a) => n("x0") + ((n("x1") - n("x0")) * a) / n("amax");
    const y = (m) => n("y0") + ((n("y1") - n("y0")) * Math.max(0, m)) / n("mmax");
    svg
      .querySelector(".tr")
      .setAttribute("points", points.map((p) => `${x(p[0]).toFixed(1)},${y(p[1]).toFixed(1)}`).join(" "));
    const tip = svg.querySelector(".tip"),
      last = points[points.length - 1];
    tip.setAttribute("cx", x(last[0]));
    tip.setAttribute("cy", y(last[1]));
    tip.setAttribute("visibility", "visible");
  };
  // The frame grows with the trace; its window band and figures go along.
  const rescale = (svg, amax, mmax) => {
    const ka = amax > Number(svg.dataset.amax) ? 1.25 : 1,
      km = mmax > Number(svg.dataset.mmax) ? 1.25 : 1;
    svg.dataset.amax = Number(svg.dataset.amax) * ka;
    svg.dataset.mmax = Number(svg.dataset.mmax) * km;
    const y0 = Number(svg.dataset.y0);
    const band = svg.querySelector(".band");
    if (band && km > 1) {
      const top = Number(band.getAttribute("y")),
        h = Number(band.getAttribute("height"));
      band.setAttribute("height", h / km);
      band.setAttribute("y", y0 - (y0 - top) / km);
    }
    for (const t of svg.querySelectorAll(".axis")) {
      const v = parseFloat(t.textContent);
      if (t.textContent.endsWith("°")) t.textContent = Math.round(v * ka) + "°";
      else if (t.getAttribute("text-anchor") === "end") t.textContent = Math.round(v * km);
      else if (km > 1 && band) t.setAttribute("y", band.getAttribute("y"));
    }
  };
  const take = (batch) => {
    for (const r of batch) {
      if (!points.length) a0 = r.a;
      points.push([Math.max(0, r.a - a0), r.m]);
    }
    draw();
    const g = document.getElementById("gauge"),
      last = batch[batch.length - 1];
    if (g && last) {
      g.textContent = Math.max(0, last.m).toFixed(1);
      document.getElementById("gauge-angle").textContent = Math.max(0, last.a - a0).toFixed(0);
    }
  };
  const tone = (good) => {
    try {
      const ctx = new AudioContext(),
        o = ctx.createOscillator();
      o.frequency.value = good ? 880 : 220;
      o.connect(ctx.destination);
      o.start();
      o.stop(ctx.currentTime + 0.18);
    } catch {
      /* no sound here */
    }
    if (navigator.vibrate) navigator.vibrate(good ? 120 : [80, 60, 80]);
  };

  // ---- what others do ---------------------------------------------------
  let stale = false;
  const mine = new Set(); // ids sent from here: their answer shows what they did
  document.addEventListener("htmx:before:request", (e) => {
    const form = e.detail && e.detail.ctx && e.detail.ctx.sourceElement;
    if (form && form.matches("form") && form.elements.id) mine.add(form.elements.id.value);
  });
  const typed = (el) => (el.matches("select") ? false : el.value !== el.defaultValue);
  // What somebody types is never swept away: the page waits until it is sent.
  const refresh = () => {
    stale = [
      ...document.querySelectorAll(
        "main input:not([type=hidden], [type=radio], [type=checkbox], [type=file]), main textarea",
      ),
    ].some(typed);
    if (stale) return;
    const self = main() && main().dataset.self; // a form sent without script has left another address behind
    if (self)
      htmx.ajax("GET", self + (location.pathname === self ? location.search : ""), {
        target: "#page",
        swap: "outerMorph",
      });
  };
  document.addEventListener("focusout", () => {
    if (stale) setTimeout(refresh, 200);
  });
  const connect = () => {
    const m = main();
    if (!m) {
      if (stream) stream.close();
      stream = null;
      streamURL = "";
      return;
    }
    if (streamURL === m.dataset.live && stream && stream.readyState !== 2) return;
    if (stream) stream.close();
    streamURL = m.dataset.live;
    stream = new EventSource(streamURL);
    stream.addEventListener("begin", () => {
      points = [];
    });
    stream.addEventListener("samples", (e) => take(JSON.parse(e.data)));
    stream.addEventListener("end", (e) => {
      const d = JSON.parse(e.data),
        out = document.getElementById("outcome");
      tone(d.good);
      if (out) out.textContent = d.says;
      points = [];
      refresh();
    });
    stream.addEventListener("change", (e) => {
      const m = main(),
        d = JSON.parse(e.data);
      if (!m || d.seq <= Number(m.dataset.seq) || mine.has(d.id)) return;
      if (d.says && d.by !== m.dataset.person) glimpse(d.says);
      refresh();
    });
    stream.addEventListener("who", (e) => {
      const also = document.getElementById("also");
      const others = JSON.parse(e.data).here.filter((name) => name !== main().dataset.person);
      if (also) also.textContent = others.length ? `also here: ${others.join(", ")}` : "";
    });
    stream.addEventListener("claim", (e) => {
      const d = JSON.parse(e.data);
      if (main() && main().dataset.person === d.from) tell(d.says);
      refresh();
    });
    stream.addEventListener("aim", () => {
      if (document.querySelector(".wrench")) location.reload();
    });
    stream.onopen = () => flush();
  };

  // ---- records while the network is away --------------------------------
  const strip = document.getElementById("offline");
  const tell = (text, list) => {
    strip.hidden = !text;
    strip.textContent = text || "";
    if (!list) return;
    const look = document.createElement("button");
    look.className = "btn small";
    look.textContent = "Look";
    look.addEventListener("click", showKept);
    strip.append(" ", look);
  };
  // glimpse says for a moment what somebody else has done.
  const glimpse = (text) => {
    if (!strip.hidden) return;
    tell(text);
    strip.classList.add("glimpse");
    setTimeout(() => {
      strip.classList.remove("glimpse");
      if (strip.textContent === text) tell("");
    }, 4000);
  };
  // standing says what waits here, and what was not taken.
  const standing = async () => {
    const all = await outbox.all();
    const refused = all.filter((e) => e.refused).length,
      waits = all.length - refused;
    if (refused) {
      tell(
        `Not taken: ${refused === 1 ? "1 record" : `${refused} records`} kept here. Somebody has to decide.`,
        true,
      );
      return;
    }
    if (!waits) {
      tell("");
      return;
    }
    // What was drawn ahead takes every act for done.
    const putOff = all.some((e) => /\/(later|trouble)$/.test(e.url))
      ? " What was put off shows as done."
      : "";
    const records = waits === 1 ? "1 record is" : `${waits} records are`;
    tell(`No network: ${records} kept here and sent on return.${putOff}`, true);
  };
  // showKept lists what is kept here beside what the server knows, to be settled.
  const showKept = async () => {
    const d = document.getElementById("kept"),
      list = d.querySelector("ol");
    list.replaceChildren();
    for (const e of await outbox.all()) {
      const row = document.createElement("li"),
        title = document.createElement("b");
      title.textContent = `${e.title}, ${e.person}, ${new Date(e.at).toLocaleTimeString([], { hour: "2-digit", minute: "2-digit" })}`;
      row.append(title);
      if (e.refused) {
        const says = document.createElement("p"),
          keys = document.createElement("p");
        says.textContent = `The shop says: ${e.refused}`;
        keys.append(
          settle("Send it again", async () => {
            await outbox.again(e);
            flush();
          }),
          " ",
          settle("Let it go", () => outbox.drop(e.n)),
        );
        row.append(says, keys);
      }
      list.append(row);
    }
    if (!d.open) d.showModal();
  };
  const settle = (label, act) => {
    const b = document.createElement("button");
    b.className = "btn small";
    b.textContent = label;
    b.addEventListener("click", async () => {
      await act();
      await standing();
      await showKept();
    });
    return b;
  };
  // goOn shows the bench as it stands after what was kept here, as far as it was drawn ahead.
  const goOn = async (skip) => {
    const m = main(),
      job = location.pathname.split("/")[2];
    if (!m || !job) return;
    const ahead = await outbox.known(job);
    const mine = (await outbox.all()).filter((e) => e.job === job && !e.refused);
    if (!ahead || ahead.person !== m.dataset.person || !mine.length) return;
    const page = ahead.pages[mine.length - 1 + (skip || 0)];
    if (!page) {
      tell("No network, and what comes next was not drawn ahead. What was recorded is kept here.", true);
      return;
    }
    const into = document.getElementById("page");
    into.outerHTML = page;
    htmx.process(document.getElementById("page"));
    shownAt = Date.now();
    ready();
    announce(false);
  };
  document.addEventListener("htmx:error", async (e) => {
    const ctx = e.detail && e.detail.ctx,
      form = ctx && ctx.sourceElement;
    if (!form || !form.matches("form[data-queue]")) {
      tell("No network: this page shows what it last knew.");
      return;
    }
    const what = document.querySelector("h2.what, h3.what");
    const submitter = (ctx.request && ctx.request.submitter) || document.activeElement;
    const by = submitter && submitter.form === form ? submitter : null;
    const title = what ? what.textContent : document.title;
    try {
      await outbox.add(form, by, main() ? main().dataset.person : "", title);
    } catch {
      tell("No network, and this browser keeps nothing. Write down what was done; record it on return.");
      return;
    }
    for (const b of document.querySelectorAll(".keys button")) b.disabled = true;
    await standing();
    await goOn(form.action.endsWith("/later") ? 1 : 0);
  });
  const flush = async () => {
    const out = await outbox.flush().catch(() => null); // still away: the next round tries again
    if (!out) return;
    if (out.sent) refresh();
    if (out.signIn) tell("Sign in again: what was recorded is kept here and sent then.", true);
    else if (out.others) tell(`Records of ${out.others} are kept here until ${out.others} signs in.`, true);
    else await standing();
  };
  // learn has the next acts drawn ahead, once the page stands still.
  let learning = 0,
    learnt = "";
  const learn = () => {
    const m = document.querySelector("main.bench");
    const job = location.pathname.split("/")[2];
    if (!m || !job || learnt === `${job}/${m.dataset.seq}`) return;
    clearTimeout(learning);
    learning = setTimeout(async () => {
      if ((await outbox.all()).length) return;
      await outbox
        .learn(job)
        .then(() => {
          learnt = `${job}/${m.dataset.seq}`;
        })
        .catch(() => {});
    }, 700);
  };
  window.addEventListener("online", flush);
  setInterval(async () => {
    if ((await outbox.all()).some((e) => !e.refused)) flush();
  }, 4000);
  if (navigator.serviceWorker) navigator.serviceWorker.register("/sw.js").catch(() => {});

  // ---- forms that need no answer on the page ----------------------------
  document.addEventListener("submit", async (e) => {
    const form = e.target.closest("form[data-quiet]");
    if (!form) return;
    e.preventDefault();
    const r = await fetch(form.action, {
      method: "POST",
      body: new URLSearchParams(new FormData(form)),
    }).catch(() => null);
    if (r && r.ok) return;
    const out = document.getElementById("outcome");
    const f = r && new DOMParser().parseFromString(await r.text(), "text/html").querySelector(".fault");
    out.textContent = f ? f.textContent : "The wrench does not answer.";
  });

  // ---- screen awake -----------------------------------------------------
  let lock = null;
  const awake = async () => {
    if (
      !document.querySelector(".bench") ||
      !navigator.wakeLock ||
      document.visibilityState !== "visible" ||
      lock
    )
      return;
    try {
      lock = await navigator.wakeLock.request("screen");
      lock.addEventListener("release", () => {
        lock = null;
      });
    } catch {
      /* not allowed here */
    }
  };
  document.addEventListener("visibilitychange", () => {
    awake();
    if (document.visibilityState === "visible") connect();
  });

  const ready = () => {
    for (const b of document.querySelectorAll(".keys-open")) b.hidden = false;
    connect();
    awake();
    tick();
    learn();
    const t = document.getElementById("trouble");
    if (t) t.scrollIntoView({ block: "nearest" });
  };
  // Another step: the focus goes to its heading, the page takes its name, and it is
  // spoken once.
  let shownStep = "";
  const announce = (first) => {
    const what = document.querySelector(".bench .what, .release .what");
    const says = what ? what.textContent : "";
    if (says === shownStep) return;
    shownStep = says;
    if (first || !what) return;
    const title = main() && main().dataset.title;
    if (title) document.title = `${title} · Lugtak`;
    document.getElementById("spoken").textContent = says;
    if (!typing(document.activeElement)) what.focus({ preventScroll: true });
  };
  document.addEventListener("htmx:after:swap", () => {
    shownAt = Date.now();
    ready();
    announce(false);
  });
  announce(true);
  ready();
  standing().then(() => goOn(0));
})();
