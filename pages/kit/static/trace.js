// The live trace of a pull: what the wrench reads is drawn as it comes.
let points = [],
  a0 = 0,
  sounded = false; // the goal was reached

// begin forgets the trace before.
export const begin = () => {
  points = [];
  sounded = false;
};

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

// take adds what a wrench has read.
export const take = (batch) => {
  for (const r of batch) {
    if (!points.length) a0 = r.a;
    points.push([Math.max(0, r.a - a0), r.m]);
  }
  draw();
  const g = document.getElementById("gauge"),
    last = batch[batch.length - 1];
  if (g && last) show(g, Math.max(0, last.m), Math.max(0, last.a - a0));
};

// show writes what the tool reads now: on the bench one figure, which sounds at its goal.
const show = (g, nm, deg) => {
  const second = document.getElementById("gauge-angle");
  if (second) {
    g.textContent = nm.toFixed(1);
    second.textContent = deg.toFixed(0);
    return;
  }
  const now = g.dataset.mode === "angle" ? deg : nm;
  g.textContent = Math.round(now * (Number(g.dataset.per) || 1));
  if (now >= Number(g.dataset.goal) && !sounded) {
    sounded = true;
    tone(true);
  }
};

// tone tells by ear and by hand how a pull has ended.
export const tone = (good) => {
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
