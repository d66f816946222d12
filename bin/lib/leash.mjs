// Loaded before a child's own code: the child ends when the process that started it is gone, however that ended.
if (process.channel) {
  process.on('disconnect', () => process.exit(0));
  process.channel.unref();
}
