// A castle nut is shown as it stands by turning its stud in the drawing: by finger, mouse, or
// the arrow keys on the choices beneath, which say the same and stand there without script.
import { clockwise, nearest, turned } from "./angle.js";

const pitch = 60;

const choices = (form) => [...form.querySelectorAll("input[name=hole]")];

const show = (form, deg) => {
  form.querySelector(".castle .stud").setAttribute("transform", `rotate(${deg} 42 42)`);
};

// choose takes the choice nearest to where the stud was let go.
const choose = (form, deg) => {
  const all = choices(form);
  const next = nearest(
    all.map((el) => Number(el.value)),
    deg,
    pitch,
  );
  all.find((el) => Number(el.value) === next).checked = true;
  show(form, next);
};

document.addEventListener("pointerdown", (e) => {
  const nut = e.target.closest(".castle svg");
  if (!nut) return;
  const form = nut.closest("form");
  const box = nut.getBoundingClientRect();
  const at = (p) => {
    return clockwise(p.clientX - box.left - box.width / 2, box.top + box.height / 2 - p.clientY);
  };
  const start = at(e);
  const was = Number(choices(form).find((el) => el.checked)?.value ?? 0);
  const now = (p) => turned(was, at(p) - start, pitch);
  const move = (p) => show(form, now(p));
  nut.setPointerCapture(e.pointerId);
  nut.addEventListener("pointermove", move);
  nut.addEventListener(
    "pointerup",
    (p) => {
      nut.removeEventListener("pointermove", move);
      choose(form, now(p));
    },
    { once: true },
  );
});

document.addEventListener("change", (e) => {
  if (e.target.name === "hole") show(e.target.form, e.target.value);
});
