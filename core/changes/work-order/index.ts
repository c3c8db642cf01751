export { workOrder, type WorkOrder, type WorkStep } from './order';
export { orderAsCsv, orderAsMarkdown, sayStep, type OrderHead } from './write';
