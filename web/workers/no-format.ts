/** Stands for the message formatting of the elementary functions' library in the engine: it is only used for errors that cannot occur here. */
export default (text: string): string => text;
