/** Stands for the library’s read-only properties: an assignment is enough here. */
module.exports = (target, name, value) => {
  target[name] = value;
};
