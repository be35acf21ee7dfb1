import { readdirSync, readFileSync, statSync } from 'node:fs';
import { join } from 'node:path';
import ts from 'typescript';

function sources(folder: string): string[] {
  return readdirSync(folder).flatMap((name) => {
    const path = join(folder, name);
    if (statSync(path).isDirectory()) return sources(path);
    return /\.tsx?$/.test(name) && !/\.test\.|\.d\.ts$|^test[A-Z]/.test(name) ? [path] : [];
  });
}

function visited(folder: string, visit: (node: ts.Node, path: string) => void): void {
  for (const path of sources(folder)) {
    const source = ts.createSourceFile(path, readFileSync(path, 'utf8'), ts.ScriptTarget.Latest, true);
    const all = (node: ts.Node): void => {
      visit(node, path);
      ts.forEachChild(node, all);
    };
    all(source);
  }
}

/** A literal's text; of a template, with `{a}`, `{b}` … where its values stand. */
function textOf(node: ts.Node): string | undefined {
  if (ts.isStringLiteral(node) || ts.isNoSubstitutionTemplateLiteral(node)) return node.text;
  if (!ts.isTemplateExpression(node)) return undefined;
  return node.templateSpans.reduce((text, span, i) => `${text}{${String.fromCharCode(97 + i)}}${span.literal.text}`, node.head.text);
}

/** All that the interface says: what is said or kept to be said, and the titles of its parts. */
export function messagesOf(folder: string): Set<string> {
  const out = new Set<string>();
  visited(folder, (node) => {
    if (ts.isCallExpression(node) && /^(say|word)$/.test(node.expression.getText())) {
      const text = textOf(node.arguments[0]);
      if (text !== undefined) out.add(text);
    }
    const titled = ts.isJsxAttribute(node) && node.name.getText() === 'title' && /^(Part|Fold)$/.test(node.parent.parent.tagName.getText());
    if (titled && node.initializer && ts.isStringLiteral(node.initializer)) out.add(node.initializer.text);
  });
  return out;
}

/** Where the core and the formats keep what they tell people. */
const telling = new Set(['what', 'reason', 'says', 'unit', 'why', 'note']);
const calls = /^(unknown|nothing|pause|parallelFor|resizeTogether|resizeSamples|fail|refused)$/;

/** All that the core and the formats tell people: refusals, notes, what is checked and why, what is being worked out. */
export function sentencesOf(folder: string): Set<string> {
  const out = new Set<string>();
  const add = (node: ts.Node): void => {
    if (ts.isConditionalExpression(node)) [node.whenTrue, node.whenFalse].forEach(add);
    const text = textOf(node);
    if (text !== undefined && /\p{L}{2,} |^[A-Z]\p{L}+$/u.test(text) && !text.includes('<')) out.add(text);
  };
  visited(folder, (node, path) => {
    if (ts.isNewExpression(node) && /^(FormatError|RecipeError|VideoError)$/.test(node.expression.getText())) node.arguments?.forEach(add);
    if (ts.isCallExpression(node) && node.expression.getText() === 'tell' && /sheet\.ts$/.test(path)) {
      const text = textOf(node.arguments[0]);
      if (text !== undefined) out.add(text);
    }
    if (ts.isCallExpression(node) && calls.test(node.expression.getText().split('.').pop()!)) node.arguments.forEach(add);
    if (ts.isPropertyAssignment(node)) {
      const name = node.name.getText();
      const unit = textOf(node.initializer);
      if (/^(unit|one)$/.test(name) && unit !== undefined && /\p{L}{4,}/u.test(unit)) out.add(unit);
      if (telling.has(name) || /products\.ts$|checks\/pictures\.ts$/.test(path)) add(node.initializer);
    }
    if (ts.isVariableDeclaration(node) && node.initializer && /[a-z] /.test(textOf(node.initializer) ?? '')) add(node.initializer);
    if (ts.isReturnStatement(node) && node.expression && /^[A-Z“].*\.$/.test(textOf(node.expression) ?? '')) add(node.expression);
    if (ts.isCallExpression(node) && /\.push$/.test(node.expression.getText())) node.arguments.forEach((a) => /^[A-Z“].*\.$/.test(textOf(a) ?? '') && add(a)); // prettier-ignore
    if ((ts.isBinaryExpression(node) || ts.isConditionalExpression(node)) && /proof|matte|plate|match/.test(path)) {
      for (const part of ts.isBinaryExpression(node) ? [node.right] : [node.whenTrue, node.whenFalse])
        if (/^[A-Z“].*\.$/.test(textOf(part) ?? '')) add(part);
    }
  });
  return out;
}
