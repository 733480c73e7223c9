// What is said of the records that wait on this tablet, and how far they lead.

// says is the line on the strip, empty where nothing waits.
export const says = (entries) => {
  const refused = entries.filter((e) => e.refused).length,
    waits = entries.length - refused;
  if (refused) {
    const records = refused === 1 ? "1 record" : `${refused} records`;
    return `Not taken: ${records} kept here. Somebody has to decide.`;
  }
  if (!waits) return "";
  const records = waits === 1 ? "1 record is" : `${waits} records are`;
  return `No network: ${records} kept here and sent on return.`;
};

// What decides which act a form is.
const deciding = [
  "step",
  "joint",
  "letter",
  "renewed",
  "choice",
  "means",
  "mark",
  "tool",
  "adapter",
  "set",
  "other",
  "drag",
  "angle",
  "hole",
  "turns",
  "strokes",
  "temp",
];

// A remark changes nothing of what stands on the bench.
const remarks = ["find", "finding", "photograph"];

const doneBy = (entry) => new URL(entry.url, "http://x").pathname.split("/").pop();

// isAct says that a record is the very act a page was drawn ahead for.
export const isAct = (entry, act) => {
  const sent = Object.fromEntries(entry.fields);
  const same = (name) => (sent[name] || "") === (act.fields[name] || "");
  return doneBy(entry) === act.do && deciding.every(same);
};

// leads is how many of the pages drawn ahead the records lead through, and the first record that
// is another act than was expected: what stands after it is known to the shop alone.
export const leads = (entries, pages) => {
  let through = 0;
  for (const e of entries) {
    if (remarks.includes(doneBy(e))) continue;
    if (through >= pages.length || !isAct(e, pages[through].act)) return { through, beyond: e };
    through++;
  }
  return { through, beyond: null };
};
