// Reads BPMN files with an independent reader and prints, as JSON, by file what it warns of and what it found.
import { readFile } from "node:fs/promises";
import { createRequire } from "node:module";
import { pathToFileURL } from "node:url";

const require = createRequire(new URL("../../../web/package.json", import.meta.url));
const { BpmnModdle } = await import(pathToFileURL(require.resolve("bpmn-moddle")).href);

const found = {};
for (const file of process.argv.slice(2)) {
  const { rootElement, warnings, elementsById } = await new BpmnModdle().fromXML(await readFile(file, "utf8"));
  found[file] = {
    warnings: warnings.map((each) => each.message),
    type: rootElement.$type,
    ids: Object.keys(elementsById),
    drawn: rootElement.diagrams?.[0]?.plane.planeElement?.map((each) => each.bpmnElement?.id) ?? [],
  };
}
console.log(JSON.stringify(found));
