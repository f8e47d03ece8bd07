/** Stands for `routes.ts` in the program of panel pages whose link carries bytes. */

/** No route is asked for. */
export const routesSpeech = undefined
export const routesMaker = undefined
