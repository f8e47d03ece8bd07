declare module 'vcd-parser' {
  const parser: { parse: (text: string, options?: { compressed?: boolean }) => Promise<unknown> }
  export default parser
}
