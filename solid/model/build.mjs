// All solids into parts.glb.gz, as the program embeds them: make solids.
import { writeFileSync } from "node:fs";
import { gzipSync } from "node:zlib";
import { parts as cab } from "./cab.mjs";
import { parts as fast } from "./fast.mjs";
import { parts } from "./front.mjs";
import { tools as gauges } from "./gauges.mjs";
import { glb } from "./glb.mjs";
import { parts as more } from "./more.mjs";
import { parts as rest } from "./rest.mjs";
import { parts as stuck } from "./stuck.mjs";
import { tools } from "./tools.mjs";
import { parts as under } from "./under.mjs";
import { parts as workshop } from "./workshop.mjs";

const all = {
  ...parts,
  ...rest,
  ...cab,
  ...stuck,
  ...workshop,
  ...more,
  ...under,
  ...fast,
  ...tools,
  ...gauges,
};
const { bytes, triangles } = glb(all);
const packed = gzipSync(bytes, { level: 9 });
writeFileSync(new URL("../parts.glb.gz", import.meta.url), packed);
console.log(
  `${Object.keys(all).length} solids, ${triangles} triangles, ${Math.round(packed.length / 1024)} kB`,
);
