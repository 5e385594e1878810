export { demoPassword, loadDemoWorld } from './load-world.ts';
