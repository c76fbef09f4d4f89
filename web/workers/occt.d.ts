declare module 'occt-import-js';
