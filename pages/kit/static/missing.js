// What a field lacks is said beside it, not in a bubble of the browser's that goes away by itself.

// says is what to do about a field that is not as it must be.
export const says = (field) => {
  const v = field.validity;
  if (v.valueMissing) {
    if (field.type === "radio") return "Choose one of these.";
    if (field.type === "checkbox") return "Say that it is so, or go on otherwise.";
    if (field.type === "file") return "Choose a file.";
    return "Fill this in.";
  }
  if (v.tooLong) return `At most ${field.maxLength} letters.`;
  return field.validationMessage;
};

const beside = (field) => (field.type === "radio" && field.closest("fieldset")) || field;

const clear = (field) => {
  const note = document.getElementById(field.getAttribute("aria-describedby") || "");
  if (!note || !note.matches(".missing")) return;
  const form = field.form;
  for (const same of form ? form.querySelectorAll(`[aria-describedby="${note.id}"]`) : [field]) {
    same.removeAttribute("aria-describedby");
    same.removeAttribute("aria-invalid");
  }
  note.remove();
};

let count = 0,
  first = null; // of those that one press has found

const tell = (field) => {
  clear(field);
  const note = document.createElement("p");
  note.className = "fault missing";
  note.id = `missing-${++count}`;
  note.textContent = says(field);
  const group = field.type === "radio" && field.form ? field.form.elements[field.name] : [field];
  for (const one of group.length ? group : [field]) {
    one.setAttribute("aria-describedby", note.id);
    one.setAttribute("aria-invalid", "true");
  }
  const at = beside(field);
  if (at.matches("fieldset")) at.append(note);
  else (at.closest(".select, label") || at).after(note);
};

document.addEventListener(
  "invalid",
  (e) => {
    const field = e.target;
    const shut = field.closest("details:not([open])");
    if (shut) shut.open = true;
    if (!field.offsetParent && field.type !== "radio" && field.type !== "checkbox") return; // nobody would see it
    e.preventDefault();
    if (field.getAttribute("aria-invalid") !== "true") tell(field);
    if (first) return;
    first = field;
    setTimeout(() => {
      first.focus();
      first.scrollIntoView({ block: "nearest" });
      first = null;
    });
  },
  true,
);

for (const kind of ["input", "change"]) document.addEventListener(kind, (e) => clear(e.target));
