/** Grids and tables of heights out of files. */
export { rankOver, readGround } from './read'
