export { issuedWith, keepShipped, templateHandlers, templatesInForce, versionsInForce } from './templates.ts';
export { stepPictureHandlers } from './step-pictures.ts';
export { learnedMinutes, minutesHandlers } from './minutes.ts';
export { workOfJobs, type CardWork } from './steps.ts';
export { visitTaskOf, visitTasks } from './visit-tasks.ts';
