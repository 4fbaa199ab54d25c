import type { DataSource } from 'typeorm';
import type { Compute } from '../compute/pool.js';
import type { Config } from '../config.js';
import type { JobRunner } from '../jobs/runner.js';

/** What handlers work with; made once a server. */
export interface App {
  config: Config;
  db: DataSource;
  compute: Compute;
  jobs: JobRunner;
}
