/** Stands for `rows.ts` in the program of panel pages over HTTP: they speak no dialect. */

/** Nobody asks for it. */
export function dialectRow(): never {
  throw new TypeError('this page speaks no dialect')
}
export { dialectRow as wireRow }
