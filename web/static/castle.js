// A castle nut is shown as it stands by turning its stud in the drawing: by finger, mouse, or
// the arrow keys on the choices beneath, which say the same and stand there without script.
"use strict";
(() => {
  const pitch = 60;
  const choices = (form) => [...form.querySelectorAll("input[name=hole]")];

  const show = (form, deg) => {
    form.querySelector(".castle .stud").setAttribute("transform", `rotate(${deg} 42 42)`);
  };

  // choose takes the choice nearest to where the stud was let go.
  const choose = (form, deg) => {
    const away = (el) => Math.abs(((el.value - deg + 1.5 * pitch) % pitch) - pitch / 2);
    const [nearest] = choices(form).sort((a, b) => away(a) - away(b));
    nearest.checked = true;
    show(form, nearest.value);
  };

  document.addEventListener("pointerdown", (e) => {
    const nut = e.target.closest(".castle svg");
    if (!nut) return;
    const form = nut.closest("form");
    const box = nut.getBoundingClientRect();
    const at = (p) => {
      const across = p.clientX - box.left - box.width / 2;
      const up = box.top + box.height / 2 - p.clientY;
      return (Math.atan2(across, up) * 180) / Math.PI;
    };
    const start = at(e);
    const was = Number(choices(form).find((el) => el.checked)?.value ?? 0);
    const now = (p) => (((was + at(p) - start) % pitch) + pitch) % pitch;
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
})();
