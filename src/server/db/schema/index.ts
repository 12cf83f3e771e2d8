/** All tables, by the rooms that they belong to. */
export * from './audit';
export * from './blobs';
export * from './bulk';
export * from './catalogue';
export * from './delivery';
export * from './drafting';
export * from './jobs';
export * from './survey';
export * from './wordings';
