/**
 * Figures of the house (docs/house.md): how long functions are, how they branch, what is told of
 * what is exported. Prints a table for core; says nothing about right or wrong.
 */
import { readFileSync } from 'node:fs'
import { execFileSync } from 'node:child_process'
import ts from 'typescript'

const MADE = /panel-runtime(-bytes)?\.ts$/
const files = execFileSync('git', ['ls-files', 'core/**/*.ts'], { encoding: 'utf8' })
  .split('\n')
  .filter(path => path && !MADE.test(path))

const lengths = []
const complexities = []
const long = []
let [lines, over, code, comments, nested, casts] = [0, 0, 0, 0, 0, 0]
const undocumented = []
let exported = 0
let kinds = 0

for (const path of files) {
  const text = readFileSync(path, 'utf8')
  const source = ts.createSourceFile(path, text, ts.ScriptTarget.Latest, true)
  countLines(text)
  if (/'(bluetooth-serial|peer|udp)'|kind [!=]== '(http|wire)'/.test(text)) kinds++
  visit(source, source, path)
}

const share = (n, of) => `${((100 * n) / of).toFixed(1)} %`
const at = (list, q) => list.toSorted((a, b) => a - b)[Math.floor(q * (list.length - 1))]
const rows = [
  ['lines over 100 columns', share(over, lines)],
  ['function length, p90 / longest', `${at(lengths, 0.9)} / ${at(lengths, 1)} lines`],
  ['cyclomatic complexity, p99 / most', `${at(complexities, 0.99)} / ${at(complexities, 1)}`],
  ['nested ternaries', nested],
  ['comment lines a code line', (comments / code).toFixed(2)],
  ['exported functions documented', share(exported - undocumented.length, exported)],
  ['`as` a thousand lines', ((1000 * casts) / code).toFixed(1)],
  ['files that name kinds of links', kinds],
]
for (const [what, figure] of rows) console.log(`${what.padEnd(36)} ${figure}`)
if (process.argv.includes('--worst')) {
  console.log('\nlines branches')
  const worst = long.toSorted((a, b) => b.lines + 4 * b.branches - a.lines - 4 * a.branches)
  for (const f of worst.slice(0, 60))
    console.log(`${String(f.lines).padStart(5)} ${String(f.branches).padStart(8)} ${f.where}`)
}
if (process.argv.includes('--undocumented')) console.log(`\n${undocumented.join('\n')}`)

function countLines(text) {
  let inside = false
  for (const line of text.split('\n')) {
    const said = line.trim()
    lines++
    if (line.length > 100) over++
    if (said === '') continue
    if (inside || said.startsWith('/*') || said.startsWith('//')) comments++
    else code++
    if (said.startsWith('/*')) inside = true
    if (said.includes('*/')) inside = false
  }
}

function visit(node, source, path) {
  if (ts.isFunctionLike(node) && node.body) measure(node, source, path)
  if (ts.isConditionalExpression(node) && isNested(node)) nested++
  if (ts.isAsExpression(node) && node.type.getText(source) !== 'const') casts++
  if (isExportedFunction(node)) {
    exported++
    const docs = ts.getJSDocCommentsAndTags(node)
    if (docs.length === 0) undocumented.push(`${path} ${nameOf(node, source)}`)
  }
  ts.forEachChild(node, child => visit(child, source, path))
}

function isNested(node) {
  const { parent } = node
  const outer = ts.isParenthesizedExpression(parent) ? parent.parent : parent
  return ts.isConditionalExpression(outer)
}

function measure(node, source, path) {
  const first = source.getLineAndCharacterOfPosition(node.getStart(source)).line
  const last = source.getLineAndCharacterOfPosition(node.end).line
  const where = `${path}:${first + 1} ${nameOf(node, source)}`
  const branches = 1 + branchesOf(node.body)
  lengths.push(last - first + 1)
  complexities.push(branches)
  long.push({ where, lines: last - first + 1, branches })
}

/** What a function branches by itself; functions within it count for themselves. */
function branchesOf(node) {
  let n = 0
  const count = child => {
    if (ts.isFunctionLike(child)) return
    const binary = ts.isBinaryExpression(child) && child.operatorToken.kind
    if (
      ts.isIfStatement(child)
      || ts.isConditionalExpression(child)
      || ts.isIterationStatement(child, false)
      || ts.isCaseClause(child)
      || ts.isCatchClause(child)
      || binary === ts.SyntaxKind.AmpersandAmpersandToken
      || binary === ts.SyntaxKind.BarBarToken
      || binary === ts.SyntaxKind.QuestionQuestionToken
      || (ts.isPropertyAccessExpression(child) && child.questionDotToken)
    )
      n++
    ts.forEachChild(child, count)
  }
  if (ts.isBlock(node)) ts.forEachChild(node, count)
  else count(node)
  return n
}

function isExportedFunction(node) {
  return (
    ts.isFunctionDeclaration(node)
    && (ts.getCombinedModifierFlags(node) & ts.ModifierFlags.Export) !== 0
  )
}

function nameOf(node, source) {
  if (node.name) return node.name.getText(source)
  const { parent } = node
  return ts.isVariableDeclaration(parent) || ts.isPropertyAssignment(parent)
    ? parent.name.getText(source)
    : '(no name)'
}
