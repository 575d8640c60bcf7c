/** Which of several notes stay, as every rule says it. */
export const sayKept = (
  keep: 'missed' | 'highest' | 'loudest' | 'newest',
  most: number,
): string => {
  const number = most === 1 ? '' : ` ${most}`;
  return keep === 'missed'
    ? `Keep the${number || ' one'} that would be missed most`
    : `Keep the ${keep}${number}`;
};
