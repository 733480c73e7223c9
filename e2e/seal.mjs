// Checks a job file with nothing of the program's: what another shop's office would write.
import { createHash, createPublicKey, verify } from "node:crypto";

// The hash of an event is over the JSON array of its fields, behind the hash before it, with
// < > & and the line separators escaped.
const escaped = (c) => "\\u" + c.charCodeAt(0).toString(16).padStart(4, "0");
const text = (fields) => JSON.stringify(fields).replace(/[<>&\u2028\u2029]/g, escaped);

export function sealed(file) {
  const { job, key, signature, events } = JSON.parse(file);
  const bodies = file
    .split("\n")
    .filter((line) => line.includes('"body":'))
    .map((line) => line.slice(line.indexOf('"body":') + 7, line.lastIndexOf(',"hash":')));
  let last = "";
  for (const [i, e] of events.entries()) {
    const fields = [last, e.id, e.job, e.seq, e.at, e.by, e.kind, bodies[i]];
    if (e.v) fields.push(e.v, e.ask ?? "");
    if (e.sent) fields.push(e.sent);
    last = createHash("sha256").update(text(fields)).digest("hex");
    if (last !== e.hash) return `event ${e.seq} does not match its seal`;
  }
  const shop = createPublicKey({
    key: { kty: "OKP", crv: "Ed25519", x: Buffer.from(key, "base64").toString("base64url") },
    format: "jwk",
  });
  const end = `lugtak job\n${job}\n${events.length} ${last}\n`;
  if (!verify(null, Buffer.from(end), shop, Buffer.from(signature, "base64"))) return "the end is not signed";
  return "ok " + last;
}
