import { dirname, resolve } from 'node:path';
import ts from 'typescript';

/** TypeScript's view of a column: what a value other than null is. */
export type ColumnType = 'string' | 'number' | 'boolean' | 'Date' | 'array' | 'object' | 'unknown';

/** A statement that server code sends with a declared row. */
export interface Statement {
  /** File and line. */
  readonly place: string;
  /** Its texts: several where a part is chosen; null where it cannot be known without running it. */
  readonly texts: readonly string[] | null;
  readonly row: Readonly<Record<string, { readonly type: ColumnType; readonly isOptional: boolean }>>;
}

/** Finds every query of a project whose row has a declared type: `query<Row>(text)` and `readPage<Row>(db, text)`. */
export function statementsOf(configFile: string): Statement[] {
  const { config } = ts.readConfigFile(configFile, (file) => ts.sys.readFile(file)) as { config: object };
  const { options, fileNames } = ts.parseJsonConfigFileContent(config, ts.sys, dirname(resolve(configFile)));
  const program = ts.createProgram(fileNames, { ...options, noEmit: true });
  const checker = program.getTypeChecker();
  const found: Statement[] = [];
  const visit = (node: ts.Node): void => {
    ts.forEachChild(node, visit);
    if (!ts.isCallExpression(node)) return;
    const text = textArgument(node, checker);
    const rowType = text && rowTypeOf(node, checker);
    if (!rowType) return;
    const source = node.getSourceFile();
    const line = source.getLineAndCharacterOfPosition(node.getStart()).line + 1;
    found.push({
      place: `${source.fileName.slice(process.cwd().length + 1)}:${line}`,
      texts: textsOf(text, checker),
      row: rowOf(rowType, checker),
    });
  };
  for (const source of program.getSourceFiles())
    if (!source.isDeclarationFile && fileNames.includes(source.fileName)) visit(source);
  return found;
}

/** The argument that holds the SQL; undefined for other calls. */
function textArgument(
  { expression, arguments: given }: ts.CallExpression,
  checker: ts.TypeChecker,
): ts.Expression | undefined {
  if (ts.isIdentifier(expression) && expression.text === 'readPage') return given[1];
  if (!ts.isPropertyAccessExpression(expression) || expression.name.text !== 'query') return undefined;
  const [first] = given.map((argument) => initialiserOf(argument, checker) ?? argument);
  if (!first || !ts.isObjectLiteralExpression(first)) return given[0];
  const text = first.properties.find((property) => property.name?.getText() === 'text');
  return text && ts.isPropertyAssignment(text) ? text.initializer : undefined;
}

/** Finds the initialiser of a constant; undefined for everything else. */
function initialiserOf(node: ts.Expression, checker: ts.TypeChecker): ts.Expression | undefined {
  const declaration = ts.isIdentifier(node) ? checker.getSymbolAtLocation(node)?.valueDeclaration : undefined;
  return declaration && ts.isVariableDeclaration(declaration) ? declaration.initializer : undefined;
}

/** The declared row: the call's type argument, or what `readPage` takes from its caller's own return type. */
function rowTypeOf(call: ts.CallExpression, checker: ts.TypeChecker): ts.Type | undefined {
  const [written] = call.typeArguments ?? [];
  if (written) return checker.getTypeFromTypeNode(written);
  if (!ts.isIdentifier(call.expression)) return undefined;
  const page = checker.getResolvedSignature(call)?.getReturnType() as ts.TypeReference | undefined;
  const inner = page && checker.getTypeArguments(page)[0];
  return inner?.aliasTypeArguments?.[0] ?? (inner && checker.getTypeArguments(inner as ts.TypeReference)[0]);
}

function rowOf(type: ts.Type, checker: ts.TypeChecker): Statement['row'] {
  return Object.fromEntries(
    checker.getPropertiesOfType(type).map((property) => [
      property.name,
      {
        type: columnType(checker.getTypeOfSymbol(property), checker),
        isOptional: (property.flags & ts.SymbolFlags.Optional) !== 0,
      },
    ]),
  );
}

function columnType(declared: ts.Type, checker: ts.TypeChecker): ColumnType {
  const type = checker.getNonNullableType(declared);
  const parts = type.isUnion() ? type.types : [type];
  const types = new Set(parts.map((part) => partType(part, checker)));
  return types.size === 1 ? [...types][0]! : 'object';
}

function partType(type: ts.Type, checker: ts.TypeChecker): ColumnType {
  if (type.flags & (ts.TypeFlags.Any | ts.TypeFlags.Unknown)) return 'unknown';
  if (type.flags & ts.TypeFlags.StringLike) return 'string';
  if (type.flags & ts.TypeFlags.NumberLike) return 'number';
  if (type.flags & ts.TypeFlags.BooleanLike) return 'boolean';
  if (checker.isArrayLikeType(type)) return 'array';
  return type.getSymbol()?.name === 'Date' ? 'Date' : 'object';
}

/** Thrown where a text depends on what only a running program knows. */
class Unknown extends Error {}

type Value = string | readonly Value[] | ts.ArrowFunction;
type Bindings = ReadonlyMap<ts.Symbol, Value>;

/** Evaluates a constant expression; a choice gives each of its alternatives. */
function textsOf(expression: ts.Expression, checker: ts.TypeChecker): string[] | null {
  try {
    return [...new Set(evaluated(expression, new Map(), checker).filter((value) => typeof value === 'string'))];
  } catch (error) {
    if (error instanceof Unknown) return null;
    throw error;
  }
}

function evaluated(node: ts.Expression, bindings: Bindings, checker: ts.TypeChecker): Value[] {
  const of = (inner: ts.Expression, more: Bindings = bindings) => evaluated(inner, more, checker);
  if (ts.isParenthesizedExpression(node) || ts.isAsExpression(node) || ts.isSatisfiesExpression(node))
    return of(node.expression);
  if (ts.isStringLiteralLike(node)) return [node.text];
  if (ts.isNumericLiteral(node)) return [node.text];
  if (ts.isTemplateExpression(node))
    return node.templateSpans.reduce<Value[]>(
      (texts, { expression, literal }) =>
        pairs(texts, of(expression)).map(([text, value]) => `${asText(text)}${asText(value)}${literal.text}`),
      [node.head.text],
    );
  if (ts.isConditionalExpression(node)) return [...of(node.whenTrue), ...of(node.whenFalse)];
  if (ts.isArrowFunction(node)) return [node];
  if (ts.isArrayLiteralExpression(node))
    return node.elements.reduce<Value[]>(
      (lists, element) => {
        const isSpread = ts.isSpreadElement(element);
        return pairs(lists, of(isSpread ? element.expression : element)).map(([list, value]) => [
          ...(list as readonly Value[]),
          ...(isSpread ? (value as readonly Value[]) : [value]),
        ]);
      },
      [[]],
    );
  if (ts.isIdentifier(node) || ts.isPropertyAccessExpression(node)) return named(node, bindings, checker);
  if (ts.isElementAccessExpression(node)) return entriesOf(node, bindings, checker);
  if (ts.isCallExpression(node)) return called(node, bindings, checker);
  throw new Unknown(node.getText());
}

const asText = (value: Value): string => {
  if (typeof value === 'string') return value;
  throw new Unknown('a list in a text');
};

const pairs = (some: readonly Value[], others: readonly Value[]): (readonly [Value, Value])[] =>
  some.flatMap((one) => others.map((other) => [one, other] as const));

function named(node: ts.Identifier | ts.PropertyAccessExpression, bindings: Bindings, checker: ts.TypeChecker) {
  let symbol = checker.getSymbolAtLocation(node);
  if (symbol && symbol.flags & ts.SymbolFlags.Alias) symbol = checker.getAliasedSymbol(symbol);
  const bound = symbol && bindings.get(symbol);
  if (bound !== undefined) return [bound];
  const declaration = symbol?.valueDeclaration;
  if (declaration && (ts.isVariableDeclaration(declaration) || ts.isPropertyAssignment(declaration))) {
    const { initializer } = declaration;
    if (initializer && ts.isVariableDeclaration(declaration) && ts.isCallExpression(unwrapped(initializer))) {
      const listed = literalsOfList(declaration.name, checker);
      if (listed) return [listed];
    }
    if (initializer) return evaluated(initializer, bindings, checker);
  }
  return literalsOf(node, checker);
}

const unwrapped = (node: ts.Expression): ts.Expression =>
  ts.isAsExpression(node) || ts.isSatisfiesExpression(node) ? unwrapped(node.expression) : node;

/** All values of a list whose type names each, such as the keys of a record. */
function literalsOfList(node: ts.Node, checker: ts.TypeChecker): Value[] | null {
  const type = checker.getTypeAtLocation(node);
  if (!checker.isArrayLikeType(type)) return null;
  const [element] = checker.getTypeArguments(type as ts.TypeReference);
  const parts = element ? (element.isUnion() ? element.types : [element]) : [];
  return parts.length > 0 && parts.every((part) => part.isStringLiteral()) ? parts.map((part) => part.value) : null;
}

/** Every entry of a constant record that is read by a key only known when it runs. */
function entriesOf(node: ts.ElementAccessExpression, bindings: Bindings, checker: ts.TypeChecker): Value[] {
  const record = initialiserOf(node.expression, checker);
  if (!record || !ts.isObjectLiteralExpression(unwrapped(record))) return literalsOf(node, checker);
  return (unwrapped(record) as ts.ObjectLiteralExpression).properties.flatMap((property) => {
    if (!ts.isPropertyAssignment(property)) throw new Unknown(node.getText());
    return evaluated(property.initializer, bindings, checker);
  });
}

/** The alternatives that a parameter's or variable's type names. */
function literalsOf(node: ts.Expression, checker: ts.TypeChecker): string[] {
  const type = checker.getTypeAtLocation(node);
  const parts = type.isUnion() ? type.types : [type];
  return parts.map((part) => {
    if (part.isStringLiteral()) return part.value;
    throw new Unknown(node.getText());
  });
}

function called(node: ts.CallExpression, bindings: Bindings, checker: ts.TypeChecker): Value[] {
  const { expression } = node;
  const given = node.arguments;
  if (ts.isPropertyAccessExpression(expression) && ['map', 'join'].includes(expression.name.text)) {
    const lists = evaluated(expression.expression, bindings, checker);
    const [argument] = given.map((one) => evaluated(one, bindings, checker));
    return pairs(lists, argument ?? [',']).flatMap(([list, value]) => {
      if (!Array.isArray(list)) throw new Unknown(node.getText());
      const items = list as readonly Value[];
      if (typeof value === 'string') return [items.map(asText).join(value)];
      return items
        .map((item) => applied(value as ts.ArrowFunction, [item], bindings, checker))
        .reduce<Value[]>((all, next) => pairs(all, next).map(([some, one]) => [...(some as Value[]), one]), [[]]);
    });
  }
  return evaluated(expression, bindings, checker).flatMap((made) => {
    if (typeof made === 'string' || Array.isArray(made)) throw new Unknown(node.getText());
    return given
      .map((one) => evaluated(one, bindings, checker))
      .reduce<Value[][]>((all, next) => all.flatMap((some) => next.map((one) => [...some, one])), [[]])
      .flatMap((values) => applied(made as ts.ArrowFunction, values, bindings, checker));
  });
}

function applied(made: ts.ArrowFunction, values: readonly Value[], bindings: Bindings, checker: ts.TypeChecker) {
  if (ts.isBlock(made.body)) throw new Unknown(made.getText());
  const bound = new Map(bindings);
  made.parameters.forEach(({ name, initializer }, place) => {
    const symbol = checker.getSymbolAtLocation(name);
    const value = values[place] ?? (initializer && evaluated(initializer, bindings, checker)[0]);
    if (symbol && value !== undefined) bound.set(symbol, value);
  });
  return evaluated(made.body, bound, checker);
}
