import { workerData } from 'node:worker_threads';

// A process whose parent ended is given another one.
setInterval(() => {
  if (process.ppid !== workerData) process.kill(process.pid, 'SIGKILL');
}, 500);
