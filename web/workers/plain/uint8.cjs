/** Every engine this runs in has it: stands for the library’s wrapper. */
module.exports = Uint8Array;
