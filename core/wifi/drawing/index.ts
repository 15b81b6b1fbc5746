export * from './pictureFile'
export * from './scaled'
