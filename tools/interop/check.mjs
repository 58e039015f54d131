// node check.mjs PACKAGES FILE…: has each .glb and .gltf validated by the glTF validator, and each .mtlx by the
// official MaterialX library, which must also make a shader of every material. Ends with 1 if anything is wrong.
import fs from "fs";
import path from "path";
import { createRequire } from "module";

const [packages, ...files] = process.argv.slice(2);
const require = createRequire(path.resolve(packages, "package.json"));

async function checkGltf(file) {
  const folder = path.dirname(file);
  const report = await require("gltf-validator").validateBytes(new Uint8Array(fs.readFileSync(file)), {
    uri: path.basename(file),
    externalResourceFunction: (uri) =>
      Promise.resolve(new Uint8Array(fs.readFileSync(path.join(folder, decodeURIComponent(uri))))),
  });
  const { numErrors, numWarnings, messages } = report.issues;
  for (const m of messages.filter((one) => one.severity < 2)) console.log(`  ${m.code}: ${m.message} ${m.pointer ?? ""}`);
  console.log(`${file}: ${numErrors} errors, ${numWarnings} warnings`);
  return numErrors + numWarnings === 0;
}

let library;
async function materialX() {
  if (library) return library;
  const folder = path.resolve(packages, "node_modules/@needle-tools/materialx/bin");
  // The library was built for a browser; what it looks for there is given to it here.
  globalThis.require = require;
  globalThis.__dirname = folder;
  const make = (await import(path.join(folder, "JsMaterialXGenShader.js"))).default;
  const data = fs.readFileSync(path.join(folder, "JsMaterialXGenShader.data.txt"));
  const mx = await make({
    locateFile: (name) => path.join(folder, name.endsWith(".data") ? `${name}.txt` : name),
    getPreloadedPackage: () => data.buffer.slice(data.byteOffset, data.byteOffset + data.byteLength),
    wasmBinary: fs.readFileSync(path.join(folder, "JsMaterialXGenShader.wasm")),
  });
  const generator = mx.EsslShaderGenerator.create();
  const context = new mx.GenContext(generator);
  library = { mx, generator, context, standard: mx.loadStandardLibraries(context) };
  return library;
}

async function checkMaterialX(file) {
  const { mx, generator, context, standard } = await materialX();
  const document = mx.createDocument();
  await mx.readFromXmlString(document, fs.readFileSync(file, "utf8"), "");
  document.setDataLibrary(standard);
  const told = { message: "" };
  let isGood = document.validate(told);
  if (told.message) console.log(`  ${told.message}`);
  const materials = document.getMaterialNodes();
  for (const material of materials) {
    try {
      generator.generate(material.getName(), material, context);
    } catch (error) {
      console.log(`  no shader can be made of ${material.getName()}`);
      isGood = false;
    }
  }
  // The images that it names are there.
  const folder = path.dirname(file);
  for (const [, name] of fs.readFileSync(file, "utf8").matchAll(/type="filename" value="([^"]+)"/g)) {
    const found = fs
      .readdirSync(path.join(folder, path.dirname(name)))
      .some((one) => new RegExp(`^${path.basename(name).replace(/[.+]/g, "\\$&").replace("<UDIM>", "\\d{4}")}$`).test(one));
    if (!found) {
      console.log(`  ${name} is not there`);
      isGood = false;
    }
  }
  console.log(`${file}: ${isGood ? "valid" : "not valid"}, ${materials.length} materials`);
  return isGood && materials.length > 0;
}

let isAllGood = files.length > 0;
for (const file of files)
  isAllGood = (await (file.endsWith(".mtlx") ? checkMaterialX(file) : checkGltf(file))) && isAllGood;
process.exit(isAllGood ? 0 : 1);
