// The package's own door loads three hundred files in every file of tests; this one loads what is asked for.
module.exports = new Proxy(
  {},
  { get: (_none, name) => (name === "__esModule" ? true : require(`date-fns/${name}`)[name]) },
);
