import fc from 'fast-check';

/**
 * What is drawn by chance is the same at every run, so that a commit is judged by itself. Others are
 * drawn by `LAW_SEED=random`, one of them again by its number.
 */
const given = process.env['LAW_SEED'] ?? '20261201';
fc.configureGlobal(given === 'random' ? {} : { seed: Number(given) });
