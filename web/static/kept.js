// What is said of the records that wait on this tablet.

// says is the line on the strip, empty where nothing waits.
export const says = (entries) => {
  const refused = entries.filter((e) => e.refused).length,
    waits = entries.length - refused;
  if (refused) {
    const records = refused === 1 ? "1 record" : `${refused} records`;
    return `Not taken: ${records} kept here. Somebody has to decide.`;
  }
  if (!waits) return "";
  // What was drawn ahead takes every act for done.
  const putOff = entries.some((e) => /\/(later|trouble)$/.test(e.url))
    ? " What was put off shows as done."
    : "";
  const records = waits === 1 ? "1 record is" : `${waits} records are`;
  return `No network: ${records} kept here and sent on return.${putOff}`;
};
