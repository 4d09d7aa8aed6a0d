// The public API as text: every name of every door with its signature, so that a change of it is seen where it is reviewed.
import { fileURLToPath } from "node:url";
import ts from "typescript";

const root = fileURLToPath(new URL("../..", import.meta.url));

/** Doors, and what each is for. */
const doors = {
  modrik: ["src/index.ts", "Reading a house, running it, judging it, explaining it."],
  "modrik/author": ["src/author.ts", "Houses written in TypeScript."],
  "modrik/language": ["src/language.ts", "Texts that stay open: for editors, and all who change them."],
  "modrik/testing": ["test/kit/index.ts", "Houses made up by a seed, and a slow engine to compare with."],
};

const head = `# The public API

Every name that can be imported, with its signature; what each does stands beside it in the sources and in an editor.
\`npm run api\` writes this page anew.
`;

/** The page `docs/api.md` as it should be. */
export function apiPage() {
  const files = Object.values(doors).map(([file]) => `${root}packages/core/${file}`);
  const { config } = ts.readConfigFile(`${root}packages/core/tsconfig.json`, ts.sys.readFile);
  const { options } = ts.parseJsonConfigFileContent(config, ts.sys, `${root}packages/core`);
  const program = ts.createProgram(files, {
    ...options,
    module: ts.ModuleKind.ESNext,
    moduleResolution: ts.ModuleResolutionKind.Bundler,
  });
  const checker = program.getTypeChecker();
  const sections = Object.entries(doors).map(([door, [, says]], index) => {
    const module = checker.getSymbolAtLocation(program.getSourceFile(files[index]));
    const lines = checker.getExportsOfModule(module).map((symbol) => [symbol.name, written(symbol, checker)]);
    const sorted = lines.sort(([a], [b]) => (a < b ? -1 : 1)).map(([, text]) => text);
    return `## \`${door}\`\n\n${says}\n\n\`\`\`ts\n${sorted.join("\n")}\n\`\`\`\n`;
  });
  return [head, ...sections].join("\n");
}

const printer = ts.createPrinter({ removeComments: true });

function written(alias, checker) {
  const symbol = alias.flags & ts.SymbolFlags.Alias ? checker.getAliasedSymbol(alias) : alias;
  const said = symbol.declarations.map((node) => signature(node, symbol, checker)).join("\n");
  // A name that is exported under another.
  return symbol.name === alias.name ? said : `${said} // as ${alias.name}`;
}

function signature(node, symbol, checker) {
  if (ts.isVariableDeclaration(node)) {
    const type = checker.typeToString(checker.getTypeOfSymbol(symbol), node, ts.TypeFormatFlags.NoTruncation);
    return `const ${symbol.name}: ${type.length > 300 ? `${type.slice(0, 300)}…` : type};`;
  }
  const source = node.getSourceFile();
  const text = printer.printNode(ts.EmitHint.Unspecified, ts.isClassDeclaration(node) ? publicOf(node) : bodiless(node), source);
  return text
    .replace(/^export (?:default )?/, "")
    .replace(/\s+/g, " ")
    .replace(/ ;/g, ";");
}

function bodiless(node) {
  if (!ts.isFunctionDeclaration(node)) return node;
  const { modifiers, asteriskToken, name, typeParameters, parameters, type } = node;
  return ts.factory.createFunctionDeclaration(modifiers, asteriskToken, name, typeParameters, parameters, type, undefined);
}

/** A class by what can be seen of it. */
function publicOf(node) {
  const { factory } = ts;
  const members = node.members.flatMap((member) => {
    const hidden = member.name && ts.isPrivateIdentifier(member.name);
    if (hidden || member.modifiers?.some(({ kind }) => kind === ts.SyntaxKind.PrivateKeyword)) return [];
    if (ts.isMethodDeclaration(member)) {
      const { modifiers, asteriskToken, name, questionToken, typeParameters, parameters, type } = member;
      return factory.createMethodDeclaration(
        modifiers,
        asteriskToken,
        name,
        questionToken,
        typeParameters,
        parameters,
        type,
        undefined,
      );
    }
    if (ts.isConstructorDeclaration(member))
      return factory.createConstructorDeclaration(member.modifiers, member.parameters, undefined);
    if (ts.isGetAccessorDeclaration(member))
      return factory.createPropertyDeclaration([], member.name, undefined, member.type, undefined);
    return member;
  });
  return factory.createClassDeclaration(node.modifiers, node.name, node.typeParameters, node.heritageClauses, members);
}
