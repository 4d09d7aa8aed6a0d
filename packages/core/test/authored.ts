// Houses as TypeScript, as tests compile and run them.
import { fileURLToPath } from "node:url";
import type { Beside, House } from "modrik";
import * as modrik from "modrik";
import * as author from "modrik/author";
import ts from "typescript";

const modules: Readonly<Record<string, object>> = { modrik, "modrik/author": author };

/** The house that a source makes: its default export, given what is next to it where it asks for that. */
export function runSource(source: string, beside: Beside = {}): House {
  const { outputText } = ts.transpileModule(source, {
    compilerOptions: { module: ts.ModuleKind.CommonJS, target: ts.ScriptTarget.ES2022, verbatimModuleSyntax: false },
  });
  const exported: { default?: House | ((beside: Beside) => House) } = {};
  new Function("require", "exports", outputText)((name: string) => modules[name], exported);
  const { default: made } = exported;
  if (made === undefined) throw new Error("nothing is exported");
  return typeof made === "function" ? made(beside) : made;
}

/** What the compiler says of each source; they are next to this file, where the library is found from. */
export function compileSources(sources: readonly string[]): string[][] {
  const folder = fileURLToPath(new URL(".", import.meta.url));
  const files = new Map(sources.map((source, index) => [`${folder}source-${index}.ts`, source]));
  const options: ts.CompilerOptions = {
    strict: true,
    exactOptionalPropertyTypes: true,
    noEmit: true,
    skipLibCheck: true,
    target: ts.ScriptTarget.ES2022,
    module: ts.ModuleKind.ESNext,
    moduleResolution: ts.ModuleResolutionKind.Bundler,
    customConditions: ["modrik-source"],
    types: [],
  };
  const host = ts.createCompilerHost(options);
  const { fileExists, readFile, getSourceFile } = host;
  host.fileExists = (name) => files.has(name) || fileExists(name);
  host.readFile = (name) => files.get(name) ?? readFile(name);
  host.getSourceFile = (name, target, ...more) => {
    const source = files.get(name);
    return source === undefined ? getSourceFile(name, target, ...more) : ts.createSourceFile(name, source, target);
  };
  const program = ts.createProgram([...files.keys()], options, host);
  return [...files].map(([name, source]) => {
    const file = program.getSourceFile(name);
    const found = [...program.getSyntacticDiagnostics(file), ...program.getSemanticDiagnostics(file)];
    return found.map(({ start = 0, messageText }) => {
      const line = source.slice(0, start).split("\n").length;
      return `${source.split("\n")[line - 1]?.trim()}: ${ts.flattenDiagnosticMessageText(messageText, " ").slice(0, 300)}`;
    });
  });
}
