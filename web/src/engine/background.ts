/** What goes on behind one's back: told in one place, and stopped there. */
import { createStore, type StoreApi } from "zustand/vanilla";

/** total: 0 while it is not known. */
export type Task = { id: number; name: string; done: number; total: number; stop: () => void };

/** One task as the one who does it has it. */
export type Going = { at: (done: number, total: number) => void; end: () => void };

export class Background {
  readonly state: StoreApi<{ tasks: readonly Task[] }> = createStore(() => ({ tasks: [] as readonly Task[] }));
  private next = 1;

  /** rest: ms after which a task is told of: what is over sooner is nobody's concern. */
  constructor(private rest = 1500) {}

  /** Tell of a task; `stop` gives it up. */
  begin(name: string, total: number, stop: () => void): Going {
    const id = this.next++;
    const put = (change: (tasks: readonly Task[]) => readonly Task[]) => this.state.setState((s) => ({ tasks: change(s.tasks) }));
    let task: Task = { id, name, done: 0, total, stop };
    const tell = () => put((tasks) => [...tasks, task]);
    const timer = this.rest ? setTimeout(tell, this.rest) : tell();
    return {
      at: (done, of) => {
        task = { ...task, done, total: of };
        put((tasks) => tasks.map((t) => (t.id === id ? task : t)));
      },
      end: () => {
        clearTimeout(timer ?? undefined);
        put((tasks) => tasks.filter((t) => t.id !== id));
      },
    };
  }
}
