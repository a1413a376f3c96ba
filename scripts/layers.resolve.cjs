// How dependency-cruiser finds what `$lib` stands for; it reads this in the form of a webpack configuration.
const { join } = require('node:path');

module.exports = { resolve: { alias: { $lib: join(__dirname, '../src/lib') }, extensions: ['.ts', '.js', '.svelte'] } };
