const mostKept = 60;

/** Answers about what does not change any more, such as a past day: the ones that were asked for last. */
export class KeptAnswers {
  readonly #answers = new Map<string, Promise<unknown>>();

  /** @param question All that the answer depends on. What is told is shared by all who ask, and not to be altered. */
  of<T>(question: unknown, find: () => Promise<T>): Promise<T> {
    const key = JSON.stringify(question);
    const answer = (this.#answers.get(key) as Promise<T> | undefined) ?? find();
    this.#answers.delete(key);
    this.#answers.set(key, answer);
    answer.catch(() => {
      if (this.#answers.get(key) === answer) this.#answers.delete(key);
    });
    for (const oldest of this.#answers.keys()) {
      if (this.#answers.size <= mostKept) break;
      this.#answers.delete(oldest);
    }
    return answer;
  }
}
