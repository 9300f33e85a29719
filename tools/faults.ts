/**
 * Small semantic faults of a source file, for `npm run mutate`: another constant, a turned comparison, a changed sign, a
 * dropped term, `and` for `or`, `min` for `max`, a flipped flag. Words for people are left alone.
 */
import ts from 'typescript';

/** One place of a source file, and the wrong text that goes there. */
export interface Fault {
  /** Counted over the whole run, from 1. */
  n: number;
  file: string;
  line: number;
  from: number;
  to: number;
  was: string;
  becomes: string;
}

/** Every fault that can be put into a file, outer ones first. `n` is given when a run has chosen. */
export function faultsOf(file: string, text: string): Fault[] {
  const source = ts.createSourceFile(file, text, ts.ScriptTarget.ESNext, true);
  const made: Fault[] = [];
  const put = (node: ts.Node, becomes: string) => {
    const from = node.getStart(source);
    const line = source.getLineAndCharacterOfPosition(from).line + 1;
    const was = node.getText(source).replace(/\s+/g, ' ').slice(0, 80);
    made.push({ n: 0, file, line, from, to: node.getEnd(), was, becomes });
  };
  const visit = (node: ts.Node): void => {
    if (isForPeople(node, source) || ts.isTypeNode(node) || ts.isImportDeclaration(node)) return;
    if (ts.isNumericLiteral(node) && !ts.isEnumMember(node.parent)) put(node, otherNumber(node.text));
    else if (node.kind === ts.SyntaxKind.TrueKeyword) put(node, 'false');
    else if (node.kind === ts.SyntaxKind.FalseKeyword) put(node, 'true');
    else if (ts.isBinaryExpression(node)) {
      const [left, right] = [node.left.getText(source), node.right.getText(source)];
      const turned = TURNED[node.operatorToken.getText(source)];
      if (turned && !isText(node)) put(node, `(${left} ${turned} ${right})`);
      if (ts.SyntaxKind.PlusToken === node.operatorToken.kind && !isText(node)) put(node, `(${left})`);
    } else if (ts.isPrefixUnaryExpression(node) && node.operator === ts.SyntaxKind.ExclamationToken)
      put(node, `Boolean(${node.operand.getText(source)})`);
    else if (ts.isPropertyAccessExpression(node)) {
      const other = OTHER_CALL[node.getText(source)];
      if (other) put(node, other);
    }
    ts.forEachChild(node, visit);
  };
  visit(source);
  return made;
}

/**
 * The file with all its faults in it, each behind a switch: `(__fault(n) ? wrong : right)`. One build then serves every
 * fault. Faults lie in one another; the right branch of an outer one holds the inner ones.
 */
export function switched(text: string, faults: readonly Fault[]): string {
  const rest = [...faults].sort((a, b) => a.from - b.from || b.to - a.to || a.n - b.n);
  const within = (from: number, to: number): string => {
    let out = '';
    let at = from;
    while (rest[0] && rest[0].from < to) {
      const fault = rest.shift() as Fault;
      out += text.slice(at, fault.from) + one(fault, isKey(text, fault));
      at = fault.to;
    }
    return out + text.slice(at, to);
  };
  const one = (fault: Fault, key: boolean): string => {
    // A second fault of the very same place (a dropped term beside a turned sign) is nested as the right branch.
    const twin = rest[0] && rest[0].from === fault.from && rest[0].to === fault.to ? rest.shift() : undefined;
    const right = twin ? one(twin, false) : `(${within(fault.from, fault.to)})`;
    const whole = `(__fault(${fault.n}) ? (${fault.becomes}) : ${right})`;
    return key ? `[${whole}]` : whole;
  };
  return within(0, text.length);
}

/** A number that names a member: `{ 16: ... }`; the switch must then be a computed key. */
const isKey = (text: string, { from, to }: Fault) =>
  /^\d/.test(text.slice(from, to)) &&
  /^\s*:/.test(text.slice(to)) &&
  /[{,]\s*(\/\/[^\n]*\s*)*$/.test(text.slice(0, from));

const OTHER_CALL: Record<string, string> = {
  'Math.min': 'Math.max',
  'Math.max': 'Math.min',
  'Math.floor': 'Math.ceil',
  'Math.ceil': 'Math.floor',
};

const TURNED: Record<string, string> = {
  '<': '>=',
  '>': '<=',
  '<=': '>',
  '>=': '<',
  '===': '!==',
  '!==': '===',
  '*': '/',
  '/': '*',
  '-': '+',
  '+': '-',
  '&&': '||',
  '||': '&&',
};

const otherNumber = (text: string) => {
  const value = Number(text);
  if (value === 0) return '1';
  return Math.abs(value) < 1e-6 ? '0.5' : String(Number((value * 1.25).toPrecision(12)));
};

const isText = ({ left, right }: ts.BinaryExpression): boolean =>
  [left, right].some((side) => ts.isStringLiteralLike(side) || ts.isTemplateExpression(side));

/** Words: what the tests of a formula should not have to spell out. */
function isForPeople(node: ts.Node, source: ts.SourceFile): boolean {
  if (ts.isTemplateExpression(node) || ts.isStringLiteralLike(node)) return true;
  if (ts.isCallExpression(node) && /^(io\.work|describe|asked|first|wrong)$/.test(node.expression.getText(source)))
    return true;
  const member = (ts.isMethodDeclaration(node) || ts.isPropertyAssignment(node)) && node.name.getText(source);
  return typeof member === 'string' && /^(sentence|title|detail|why|label|text|message|cautions)$/.test(member);
}
