declare module 'lucide/dist/esm/icons/*.mjs' {
  const drawing: readonly (readonly [string, Readonly<Record<string, string | number>>])[]
  export default drawing
}
