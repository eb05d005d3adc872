import { TASKS, type TaskName } from './compute/tasks.js';

/** The program of a thread: does one task after the other. */
export default function work({ name, argument }: { name: TaskName; argument: never }): unknown {
  return TASKS[name](argument);
}
