/** Stands for message formatting, which is only used for errors that cannot occur here. */
module.exports = (text) => text;
