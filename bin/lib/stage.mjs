/** Run one stage of a start and print its line with the time it took. */
export async function stage(name, work) {
  const begun = process.hrtime.bigint();
  const note = await work();
  const seconds = Number(process.hrtime.bigint() - begun) / 1e9;
  console.log(`  ${name.padEnd(34)} ${seconds.toFixed(1).padStart(6)} s${typeof note === 'string' ? `   ${note}` : ''}`);
  return note;
}
