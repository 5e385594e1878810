// After the server's tests: every statement that is written out was run by one of them, and its rows are what the code says they are.
// The code says it as a type (`rows<{ id: number }>(...)`), which nobody checks otherwise: a column of another name or type would compile.
import fs from 'node:fs';
import path from 'node:path';
import ts from 'typescript';
import { root } from '../ensure.mjs';
import { seenFolder } from './seen-folder.mjs';

const source = path.join(root, 'server/src');
const askers = new Set(['rows', 'oneRow', 'maybeRow', 'execute']);

/** PostgreSQL's own numbers of types (pg_type.dat), by what the driver makes of them. */
const made = {
  boolean: [16],
  number: [20, 21, 23, 26, 700, 701],
  string: [18, 19, 25, 1042, 1043, 1082, 1083, 1114, 1184, 1186, 1700, 2950, 3220],
  bytes: [17],
  json: [114, 3802],
  list: [1000, 1001, 1005, 1007, 1009, 1015, 1016, 1021, 1022, 1115, 1182, 1185, 2951, 199, 3807],
};
const kinds = new Map(Object.entries(made).flatMap(([kind, numbers]) => numbers.map((number) => [number, kind])));
/** Types that a database adds get numbers from here on: the one that we have is citext. */
const firstAdded = 16_384;
const kindOfType = (number) => kinds.get(number) ?? (number >= firstAdded ? 'string' : `type ${number}`);

/** Statements that run in a process of their own: the command that rebuilds, the start of the demo, and figures that a test reads over HTTP. */
const elsewhere = ['database/rebuild-command.ts', 'serve.ts', 'metrics.ts', 'letters/post-office.ts'];

function seen() {
  const statements = new Map();
  for (const name of fs.readdirSync(seenFolder)) {
    for (const line of fs.readFileSync(path.join(seenFolder, name), 'utf8').split('\n').filter(Boolean)) {
      const { place, columns } = JSON.parse(line);
      const all = statements.get(place) ?? {};
      for (const [column, { type, isNull }] of Object.entries(columns)) {
        const known = (all[column] ??= { types: new Set(), isNull: false });
        known.types.add(type);
        known.isNull ||= isNull;
      }
      statements.set(place, all);
    }
  }
  return statements;
}

function program() {
  const file = path.join(root, 'server/tsconfig.json');
  const read = ts.getParsedCommandLineOfConfigFile(
    file,
    { noEmit: true, composite: false, incremental: false },
    { ...ts.sys, onUnRecoverableConfigFileDiagnostic: () => {} },
  );
  return ts.createProgram({ rootNames: read.fileNames, options: read.options, projectReferences: read.projectReferences });
}

/** What a type of a row's field may be: kinds as in `made`, and null. `any` where the code does not say. */
function kindsOf(checker, type) {
  if (type.isUnion()) return new Set(type.types.flatMap((each) => [...kindsOf(checker, each)]));
  const { flags } = type;
  if (flags & (ts.TypeFlags.Any | ts.TypeFlags.Unknown | ts.TypeFlags.TypeParameter)) return new Set(['any', 'null']);
  if (flags & (ts.TypeFlags.Null | ts.TypeFlags.Undefined)) return new Set(['null']);
  if (flags & ts.TypeFlags.BooleanLike) return new Set(['boolean']);
  if (flags & ts.TypeFlags.NumberLike) return new Set(['number']);
  if (flags & ts.TypeFlags.StringLike) return new Set(['string']);
  if (type.isIntersection()) {
    const kinds = type.types.flatMap((each) => [...kindsOf(checker, each)]);
    const plain = kinds.filter((kind) => ['boolean', 'number', 'string'].includes(kind));
    return new Set(plain.length > 0 ? plain : kinds);
  }
  if (checker.isArrayType(type) || checker.isTupleType(type)) return new Set(['list', 'json']);
  if (['Buffer', 'Uint8Array'].includes(type.symbol?.name)) return new Set(['bytes']);
  return new Set(['json']);
}

/** The type of a row, of what the call gives: a promise of a row, of rows, or of a result that has rows. */
function rowOf(checker, call) {
  const signature = checker.getResolvedSignature(call);
  let type = checker.getAwaitedType(checker.getReturnTypeOfSignature(signature)) ?? checker.getReturnTypeOfSignature(signature);
  const result = type.getProperty?.('rows');
  if (result) type = checker.getTypeOfSymbolAtLocation(result, call);
  type = checker.getNonNullableType(type);
  if (checker.isArrayType(type)) [type] = checker.getTypeArguments(type);
  return type;
}

/** Calls that ask the database for rows and say of which type: `execute` without one asks for none. */
function* askedFor(checker, file) {
  const visit = function* (node) {
    if (ts.isCallExpression(node)) {
      const callee = ts.isPropertyAccessExpression(node.expression) ? node.expression.name : node.expression;
      const isAsker = ts.isIdentifier(callee) && askers.has(callee.text) && node.arguments.length > 0;
      const isOurs =
        isAsker && (callee.text === 'execute' ? ts.isPropertyAccessExpression(node.expression) : ts.isIdentifier(node.expression));
      if (isOurs && (callee.text !== 'execute' || node.typeArguments)) yield { call: node, callee };
    }
    for (const child of node.getChildren()) yield* visit(child);
  };
  yield* visit(file);
}

/** Some run only when two requests meet, or a connection breaks: so many may be missed by a run of the tests. */
const mostMissed = 5;

const statements = seen();
const all = program();
const checker = all.getTypeChecker();
const faults = [];
const missed = [];
let compared = 0;
for (const file of all.getSourceFiles()) {
  const { fileName } = file;
  if (
    !fileName.startsWith(source) ||
    fileName.endsWith('.test.ts') ||
    fileName.includes('/testing/') ||
    fileName.endsWith('database/connect.ts')
  )
    continue;
  for (const { call, callee } of askedFor(checker, file)) {
    const at = (node) => {
      const { line, character } = file.getLineAndCharacterOfPosition(node.getStart());
      return `${path.relative(source, fileName)}:${line + 1}:${character + 1}`;
    };
    const place = at(callee);
    const columns = statements.get(place);
    if (!columns) {
      if (!elsewhere.includes(place.split(':')[0])) missed.push(`${place} no test ran this statement`);
      continue;
    }
    const row = rowOf(checker, call);
    if (row.flags & ts.TypeFlags.TypeParameter) continue;
    compared += 1;
    for (const property of checker.getPropertiesOfType(row)) {
      const column = columns[property.name];
      const isOptional = Boolean(property.flags & ts.SymbolFlags.Optional);
      if (!column) {
        if (!isOptional) faults.push(`${place} no column ${property.name}`);
        continue;
      }
      const type = checker.getTypeOfSymbolAtLocation(property, call);
      const kinds = kindsOf(checker, type);
      for (const number of column.types) {
        const kind = kindOfType(number);
        if (!kinds.has('any') && !kinds.has(kind))
          faults.push(`${place} ${property.name} is ${kind} (${number}), and not ${checker.typeToString(type)}`);
      }
      if (column.isNull && !kinds.has('null')) faults.push(`${place} ${property.name} was null, and is ${checker.typeToString(type)}`);
    }
  }
}
for (const line of [...faults.sort(), ...missed.sort()]) console.log(line);
console.log(`${compared} statements compared with their types: ${faults.length} faults, ${missed.length} not run`);
process.exit(faults.length === 0 && missed.length <= mostMissed ? 0 : 1);
